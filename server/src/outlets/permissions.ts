import { isDesk, isWriter, whyNotPublic } from '@keyroster/core';
import { isDelayedPart } from '../access/readable.js';
import type { Queryable } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import { notFound, notYours } from '../http/problem.js';
import { asReadersSee } from '../posts/readers-version.js';
import { factsOf, findPost, type WholePostRow } from '../posts/store.js';

/** Pieces are approved and sent by the desk of their post. Gives the post, or throws a sentence. */
export async function mustSend(db: Queryable, person: CurrentPerson, postId: number): Promise<WholePostRow> {
  const post = await findPost(db, person.blogId, postId);
  if (!post) throw notFound('That post');
  if (!isDesk(person, factsOf(post))) throw notYours('Sending pieces of this post');
  return asReadersSee(db, post);
}

/** They are made by its writers too. */
export const mayMake = (person: CurrentPerson, row: WholePostRow) =>
  isDesk(person, factsOf(row)) ||
  (person.role !== 'reader' && person.role !== 'proofreader' && isWriter(person, factsOf(row)));

/** Why nothing that is made of a post may leave the house, or null when it may. */
export async function whyNothingGoesOut(db: Queryable, post: WholePostRow): Promise<string | null> {
  if (post.stage === 'withdrawn') return 'Its post was withdrawn.';
  return whyNotPublic(post.access, await isDelayedPart(db, post.id));
}

/**
 * The same for the other posts that a digest tells of. Those that are to come out yet may, as long as they are out
 * when it goes.
 */
export async function whyOthersStay(
  db: Queryable,
  { blog_id, other_ids }: { blog_id: number; other_ids: readonly number[] },
  out: 'in time' | 'now',
): Promise<string | null> {
  for (const id of other_ids) {
    const post = await findPost(db, blog_id, id);
    if (!post) return 'A post that it tells of lies in the bin.';
    const refusal =
      (await whyNothingGoesOut(db, post)) ??
      (out === 'now' && post.stage !== 'published' ? 'Its post is not published.' : null);
    if (refusal) return `It tells of “${post.title}”. ${refusal}`;
  }
  return null;
}
