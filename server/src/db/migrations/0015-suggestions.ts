import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- The text with what is suggested in it, where something is; its body is the text without.
    alter table all_posts add column suggested jsonb;
    -- Proofreaders suggest; in this post they write.
    alter table all_posts add column proofreader_writes boolean not null default false;
    create or replace view posts as select * from all_posts where binned_at is null;
    -- Do readers of published posts see it at once, or with the next update of each?
    alter table batches add column at_once boolean not null default true;
    -- Kept where it changed, as the body is.
    alter table post_versions add column suggested jsonb;
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
