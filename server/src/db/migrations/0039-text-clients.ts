import type { Knex } from 'knex';

/** Through which client of a shared document which person writes. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table shared_text_clients (
      post_id integer not null references shared_texts on delete cascade,
      -- A number of 32 bits and, in later versions of the library, of 53.
      client bigint not null,
      person_id integer not null references people on delete cascade,
      primary key (post_id, client)
    );
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
