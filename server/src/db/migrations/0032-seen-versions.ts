import type { Knex } from 'knex';

/** The version in which somebody saw a format, a checklist or a pattern, so that nobody saves over what they did not see. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table formats add version integer not null default 1;
    alter table checklists add version integer not null default 1;
    alter table rollout_patterns add version integer not null default 1;
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
