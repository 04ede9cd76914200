import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  // Titles are told by facts and by how others like them did; there is no mark to reach.
  await knex.raw('alter table blogs drop column title_aim');
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
