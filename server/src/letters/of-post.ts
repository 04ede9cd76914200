import type { LetterOfPost } from '@keyroster/contract';
import { whyNotPublic } from '@keyroster/core';
import { isDelayedPart } from '../access/readable.js';
import type { Queryable } from '../db/connect.js';
import type { PostRow } from '../posts/store.js';

/** Subscribers who would get a letter now. */
export async function activeSubscribers(db: Queryable, blogId: number): Promise<number> {
  const [row] = await db('subscribers')
    .where({ blog_id: blogId, state: 'active' })
    .select<{ n: number }[]>(db.raw('count(*)::int as n'));
  return row!.n;
}

/** The letter that goes with a post's release: to whom, why it cannot, and what came of it. */
export async function letterOfPost(
  db: Queryable,
  post: Pick<PostRow, 'id' | 'blog_id' | 'access'>,
): Promise<LetterOfPost> {
  const letter = await db('letters')
    .where({ blog_id: post.blog_id, released_post_id: post.id })
    .first<LetterOfPost['letter'] | undefined>('id', 'state', 'note');
  return {
    subscribers: await activeSubscribers(db, post.blog_id),
    withheld: whyNotPublic(post.access, await isDelayedPart(db, post.id)) ?? '',
    letter: letter ?? null,
  };
}
