import type { Knex } from 'knex';

/** How far work is that somebody waits for, and addresses of a file that is being read. Nothing of it must outlive a crash. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create unlogged table running_tasks (
      key uuid not null,
      person_id integer not null,
      -- How many come first; 0 while it runs.
      place integer not null default 0,
      done integer not null default 0,
      total integer not null default 0,
      at timestamptz(3) not null default now(),
      primary key (person_id, key)
    );
    create unlogged table subscriber_imports (
      import uuid not null,
      n integer not null,
      email text not null,
      name text not null,
      at timestamptz(3) not null default now(),
      primary key (import, n)
    );
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
