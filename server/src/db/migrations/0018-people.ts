import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- What the readers' pages tell of a person, where they are, and how they wish to hear of things.
    alter table memberships
      add column zone text,
      add column biography text not null default '',
      add column picture_id integer,
      add column links jsonb not null default '[]',
      add column notify text not null default 'today' check (notify in ('today', 'digest', 'none')),
      add column digest_hour smallint not null default 8 check (digest_hour between 0 and 23),
      add column digest_on date,
      add foreign key (blog_id, picture_id) references media (blog_id, id);

    -- Categories that a person writes; none: any.
    create table writer_categories (
      blog_id integer not null,
      person_id integer not null,
      category_id integer not null,
      primary key (blog_id, person_id, category_id),
      foreign key (blog_id, person_id) references memberships on delete cascade,
      foreign key (blog_id, category_id) references categories (blog_id, id) on delete cascade
    );

    -- Only a digest of the secret is kept: who reads the table cannot use the invitation.
    create table invites (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      secret_sha256 text not null unique,
      name text not null,
      email text not null check (email = lower(email)),
      role text not null check (role in ('managing editor','editor','contributor','proofreader','reader')),
      categories jsonb not null default '[]',
      made_by integer not null references people,
      made_at timestamptz(3) not null default now(),
      expires_at timestamptz(3) not null,
      used_at timestamptz(3),
      person_id integer references people
    );
    create index invites_open on invites (blog_id, made_at) where used_at is null;
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
