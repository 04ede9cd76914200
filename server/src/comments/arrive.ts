import {
  plainComment,
  spamChance,
  stateOnArrival,
  type CommentHold,
  type CommentState,
} from '@keyroster/core';
import type { Queryable, Trx } from '../db/connect.js';
import { emit } from '../live/live.js';
import { planCommentMail } from '../jobs/queue.js';

/** A comment as it comes from a reader's form, its text and limits looked at. */
export interface NewComment {
  blogId: number;
  postId: number;
  parentId: number | null;
  name: string;
  email: string;
  text: string;
  memberId: number | null;
  /** By which their browser is known again; null for people who work for the blog. */
  authorKey: Buffer | null;
  /** Who of the newsroom says it; null for readers. */
  personId: number | null;
  trapped: boolean;
}

/**
 * Was a comment of theirs approved before, and none taken for spam? Only what nobody else can bring tells who somebody
 * is: what stands in the form is anybody's to write.
 */
async function isKnown(
  db: Queryable,
  { blogId, memberId, authorKey }: Pick<NewComment, 'blogId' | 'memberId' | 'authorKey'>,
): Promise<boolean> {
  const states = await db('comments')
    .where({ blog_id: blogId })
    .where((w) => {
      void w.where({ author_key: authorKey });
      if (memberId !== null) void w.orWhere({ member_id: memberId });
    })
    .distinct()
    .pluck<CommentState[]>('state');
  return states.includes('approved') && !states.includes('spam');
}

/** What may be answered: a visible comment under the same post, which itself answers none. */
export async function mayAnswer(db: Queryable, postId: number, parentId: number): Promise<boolean> {
  const parent = await db('comments')
    .where({ id: parentId, post_id: postId, state: 'approved', parent_id: null })
    .first('id');
  return parent !== undefined;
}

/**
 * Takes a comment in, and says where it stands by itself. Who moderates is told at once, who wrote the post
 * by mail.
 */
export async function receiveComment(
  trx: Trx,
  comment: NewComment,
  hold: CommentHold,
): Promise<{ id: number; state: CommentState }> {
  const staff = comment.personId !== null;
  const spam = staff ? 0 : spamChance(`${comment.name}\n${comment.text}`);
  const known = staff || (await isKnown(trx, comment));
  const state = stateOnArrival({ spam, trapped: comment.trapped, known, staff }, hold);
  const [row] = await trx('comments')
    .insert({
      blog_id: comment.blogId,
      post_id: comment.postId,
      parent_id: comment.parentId,
      state,
      name: comment.name,
      email: comment.email,
      text: plainComment(comment.text),
      member_id: comment.memberId,
      author_key: comment.authorKey,
      person_id: comment.personId,
      // Writers are notified of comments.
      told_at: staff ? trx.fn.now() : null,
      spam,
    })
    .returning<{ id: number }[]>('id');
  await notifyComment(trx, comment.blogId, comment.postId, state);
  return { id: row!.id, state };
}

/** Tells of a comment or a mention that came. */
export async function notifyComment(
  trx: Trx,
  blogId: number,
  postId: number,
  state: CommentState,
): Promise<void> {
  if (state !== 'spam') await planCommentMail(trx, postId);
  await emit(
    trx,
    { blogId, kind: 'comment', postId },
    // Readers' pages are rendered again only for what they show.
    ...(state === 'approved' ? [{ blogId, kind: 'release' as const, postId }] : []),
  );
}
