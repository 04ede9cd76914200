import type { Knex } from 'knex';

/** Whatever refers to a post is looked for when it is erased: without these, through whole tables for each post. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create index posts_copied_from on all_posts (copied_from_id) where copied_from_id is not null;
    create index old_slugs_post on old_slugs (post_id);
    create index letter_readers_post on letter_readers (post_id) where post_id is not null;
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
