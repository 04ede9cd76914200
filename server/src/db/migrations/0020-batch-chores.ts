import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- Chores that a batch gives from one person to another, as they were previewed.
    create table batch_chores (
      batch_id integer not null references batches on delete cascade,
      chore_id integer not null references chores on delete cascade,
      from_id integer not null references people,
      to_id integer not null references people,
      primary key (batch_id, chore_id)
    );
    create index batch_chores_of on batch_chores (chore_id);
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
