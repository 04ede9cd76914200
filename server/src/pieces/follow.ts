import { dueOf, meaningOf, type Timing } from '@keyroster/core';
import type { Db, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { emit } from '../live/live.js';
import type { Written } from '../posts/effects.js';
import { cancelSends, planSends } from '../outlets/plan.js';

interface PostTime {
  id: number;
  blog_id: number;
  stage: string;
  run_local: string | null;
  run_zone: string | null;
  zone: string;
  gone: boolean;
}
interface PieceTime {
  id: number;
  timing: Timing;
  due_local: string | null;
  due_at: string | null;
  send_id: number | null;
  state: string | null;
}

/**
 * The instant a wall time means; a time that the clocks leave out is taken as the later one, one that comes
 * twice as the first.
 */
export function instantOf(local: string, zone: string): string | null {
  const meaning = meaningOf(local, zone);
  if (!meaning) return null;
  return meaning.kind === 'exact'
    ? meaning.at
    : meaning.kind === 'gap'
      ? meaning.choices[1].at
      : meaning.choices[0].at;
}

/**
 * The wall time of a piece, with the instant it means in the blog's zone; both null while its post has no
 * release.
 */
export function dueTimes(
  timing: Timing,
  post: Pick<PostTime, 'stage' | 'run_local' | 'run_zone' | 'zone'>,
): { due_local: string | null; due_at: string | null } {
  const settled = post.stage === 'scheduled' || post.stage === 'published';
  const local =
    timing.kind === 'date'
      ? timing.local
      : settled && post.run_local !== null
        ? dueOf(timing, post.run_local)
        : null;
  return { due_local: local, due_at: local === null ? null : instantOf(local, post.run_zone ?? post.zone) };
}

/**
 * Has the pieces of posts follow their release: those that are not sent get new times, and stop, with
 * a sentence, when the post was withdrawn or went to the bin. Part of the transaction that moves the post.
 */
export async function followReleases(trx: Trx, effects: readonly { on: Written }[]): Promise<void> {
  await followPosts(
    trx,
    effects.map(({ on }) => on.after.id),
  );
}

/** When zone rules changed, the wall times of pieces stand too: their instants are worked out again. */
export async function keepDueTimes(db: Db): Promise<void> {
  const posts = await db('pieces')
    .whereRaw('due_at > now()')
    .distinct()
    .orderBy('post_id')
    .pluck<number[]>('post_id');
  for (const id of posts) await inTransaction(db, (trx) => followPosts(trx, [id]));
}

async function followPosts(trx: Trx, postIds: readonly number[]): Promise<void> {
  const posts = await trx('all_posts as p')
    .join('blogs as b', 'b.id', 'p.blog_id')
    .whereRaw('p.id = any(?)', [[...postIds]])
    .whereExists((q) => q.from('pieces').whereRaw('pieces.post_id = p.id'))
    .select<PostTime[]>(
      'p.id',
      'p.blog_id',
      'p.stage',
      'p.run_local',
      'p.run_zone',
      'b.zone',
      trx.raw(`(p.stage = 'withdrawn' or p.binned_at is not null) as gone`),
    );
  for (const post of posts) {
    const pieces = await trx('pieces')
      .leftJoin('sends', 'sends.piece_id', 'pieces.id')
      .where('pieces.post_id', post.id)
      .whereRaw(`coalesce(sends.state, 'draft') not in ('sent','sending','unsure')`)
      .select<PieceTime[]>(
        'pieces.id',
        'pieces.timing',
        'pieces.due_local',
        'pieces.due_at',
        'sends.id as send_id',
        'sends.state',
      );
    let followed = false;
    for (const piece of pieces) {
      if (post.gone) {
        if (piece.state === 'waiting') {
          await trx('sends')
            .where({ id: piece.send_id! })
            .update({
              state: 'stopped',
              error: post.stage === 'withdrawn' ? 'Its post was withdrawn.' : 'Its post lies in the bin.',
            });
          await cancelSends(trx, [piece.send_id!]);
          followed = true;
        }
        continue;
      }
      const due = dueTimes(piece.timing, post);
      if (due.due_local === piece.due_local && due.due_at === piece.due_at) continue;
      followed = true;
      await trx('pieces').where({ id: piece.id }).update(due);
      if (piece.send_id === null) continue;
      await trx('sends').where({ id: piece.send_id }).update({ due_at: due.due_at });
      await cancelSends(trx, [piece.send_id]);
      await planSends(trx, { sendId: piece.send_id });
    }
    if (followed) await emit(trx, { blogId: post.blog_id, kind: 'outlet', postId: post.id });
  }
}
