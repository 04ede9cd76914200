import type { Knex } from 'knex';

/**
 * The words of a post beside their pairs, without their places, so that a phrase of which a word is ruled out is found
 * without looking at the posts that have that word, which may be most. Made and out of date together with the pairs.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table word_pairs add column words tsvector;
    update word_pairs w
    set words = strip(p.search)
    from all_posts p
    where p.id = w.post_id and w.pairs is not null;
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
