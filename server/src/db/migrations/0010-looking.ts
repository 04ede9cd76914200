import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- A batch over many texts is looked through by a job before it is previewed.
    alter table batches drop constraint batches_state_check;
    alter table batches add constraint batches_state_check
      check (state in ('looking', 'previewed', 'waiting', 'applied', 'failed'));
    -- What is to be looked through, in order; null when there is nothing left of it.
    alter table batches add column chosen integer[];
    alter table batches add column looked_at timestamptz(3);
    create index batches_looking on batches (id) where state = 'looking';
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
