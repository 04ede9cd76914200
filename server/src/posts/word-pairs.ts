import type { Queryable } from '../db/connect.js';

/**
 * Makes the words and their pairs of posts whose text changed since, or, with none named, of all such posts.
 * Until then a phrase is sought in their texts. The caller holds the posts, so that no text changes
 * meanwhile.
 */
export async function makeWordPairs(trx: Queryable, postIds?: readonly number[]): Promise<void> {
  await trx.raw(
    `
      update word_pairs w
      set
        pairs = word_pairs_of(p.search),
        words = strip(p.search)
      from
        all_posts p
      where
        p.id = w.post_id
        and w.pairs is null
        ${postIds ? 'and w.post_id = any (?)' : ''}
    `,
    postIds ? [[...postIds]] : [],
  );
}
