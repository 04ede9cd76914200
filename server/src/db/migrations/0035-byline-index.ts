import type { Knex } from 'knex';

/**
 * With what lies in the bin said in the index: posts that few bylines have are read off it alone, as an order by bylines
 * of what one person changed needs it.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    drop index posts_byline;
    create index posts_byline on all_posts (blog_id, byline_id, run_at desc nulls last, id desc) include (binned_at);
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
