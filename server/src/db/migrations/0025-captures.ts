import type { Knex } from 'knex';

/** What was written down without a connection, by the key that its device gave it: it arrives once. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table captures (
      person_id integer not null references people,
      key uuid not null,
      blog_id integer not null references blogs on delete cascade,
      post_id integer references all_posts on delete set null,
      at timestamptz not null default now(),
      primary key (person_id, key)
    );
    create index captures_post on captures (post_id) where post_id is not null;
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
