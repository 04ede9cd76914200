import type { Knex } from 'knex';

/** What people call reassigning was called handing over in batches, too. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    update batches set changes = replace(changes::text, '"kind": "hand over"', '"kind": "reassign"')::jsonb
    where changes @> '[{"kind": "hand over"}]'
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
