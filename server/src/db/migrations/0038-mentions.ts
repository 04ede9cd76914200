import type { Knex } from 'knex';

/** Mentions that are missing for a day, and under which address other pages were notified. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- Since when the page that mentions a post answers that it is not found.
    alter table comments add column missing_since timestamptz(3);
    -- The address of the post that the page was notified of; null where it was before this was kept.
    alter table mentions_sent add column source text;
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
