import type { Db, Trx } from '../db/connect.js';
import { log } from '../log.js';
import { planRelease } from '../jobs/queue.js';
import { movePost } from './move.js';
import { databaseNow, lockPost } from './store.js';
import { isLater, meaningOf } from '@keyroster/core';
import { writePost } from './write-post.js';

/** Later than this counts as late in the log. */
export const LATE_MS = 10_000;

/**
 * Releases a post if it is due: takes the row's lock, looks again, then sets it published and writes the log in one
 * transaction. Run twice, or by two processes, the second finds nothing to do; killed half-way, nothing has happened.
 */
export async function release(db: Db, postId: number): Promise<'released' | 'not due' | 'not scheduled'> {
  return db.transaction(async (trx: Trx) => {
    const held = await trx('posts').where({ id: postId, stage: 'scheduled' }).forUpdate().first<{ blog_id: number } | undefined>('blog_id');
    if (!held) return 'not scheduled';
    const row = (await lockPost(trx, held.blog_id, postId))!;
    const now = await databaseNow(trx);
    if (isLater(row.run_at!, now)) {
      await planRelease(trx, postId, row.run_at!);
      return 'not due';
    }
    await movePost(trx, row, 'clock', { to: 'published' });
    const backdated = isLater(row.scheduled_at!, row.run_at!);
    await trx('release_log').insert({
      blog_id: row.blog_id, post_id: row.id, planned_local: row.run_local, planned_at: row.run_at,
      due_at: backdated ? row.scheduled_at : row.run_at, released_at: trx.raw('clock_timestamp()'), backdated,
    });
    return 'released';
  });
}

/** Adds a job for every post that is due and not out, in order of run time: after an outage, and as a net under the jobs. */
export async function sweepOverdue(db: Db): Promise<number> {
  const due = await db('posts').where({ stage: 'scheduled' }).whereRaw('run_at <= clock_timestamp()').orderBy('run_at').orderBy('id').select<{ id: number; run_at: string }[]>('id', 'run_at');
  for (const { id, run_at } of due) await db.transaction((trx) => planRelease(trx, id, run_at));
  return due.length;
}

/** When zone rules changed, wall times stand: their instants are worked out again. */
export async function keepWallTimes(db: Db): Promise<void> {
  const coming = await db('posts').whereNotNull('run_local').whereNot({ stage: 'published' }).whereRaw('run_at > now()')
    .select<{ id: number; blog_id: number; run_local: string; run_zone: string; run_at: string }[]>('id', 'blog_id', 'run_local', 'run_zone', 'run_at');
  for (const post of coming) {
    const meaning = meaningOf(post.run_local, post.run_zone);
    const at = meaning?.kind === 'exact' ? meaning.at : meaning?.choices.find((c) => c.at === post.run_at)?.at ?? meaning?.choices[0].at;
    if (!at || at === post.run_at) continue;
    await db.transaction(async (trx) => {
      const row = await lockPost(trx, post.blog_id, post.id);
      if (!row || row.run_local !== post.run_local) return;
      await writePost(trx, row, { fields: { run_at: at } }, null);
      if (row.stage === 'scheduled') await planRelease(trx, row.id, at);
      log.info({ postId: row.id, from: post.run_at, to: at }, 'zone rules changed; the wall time stands');
    });
  }
}
