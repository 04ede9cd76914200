import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- Whom a note mentions, and when they saw it.
    create table note_mentions (
      note_id integer not null references notes on delete cascade,
      person_id integer not null references people,
      seen_at timestamptz(3),
      mailed_at timestamptz(3),
      primary key (note_id, person_id)
    );
    create index note_mentions_unseen on note_mentions (person_id) where seen_at is null;
    alter table people add column mail_mentions boolean not null default false;

    -- Keys that people make for their writing tools. Only a digest of each is kept.
    create table tokens (
      id integer generated always as identity primary key,
      blog_id integer not null,
      person_id integer not null references people,
      name text not null check (name <> ''),
      scopes text[] not null check (cardinality(scopes) > 0),
      secret_sha256 text not null unique,
      made_at timestamptz(3) not null default now(),
      last_used_at timestamptz(3),
      foreign key (blog_id, person_id) references memberships (blog_id, person_id) on delete cascade
    );
    create index tokens_person on tokens (person_id);
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
