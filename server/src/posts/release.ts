import type { Db, Trx } from '../db/connect.js';
import { log } from '../log.js';
import { cancelReleases, planRelease } from '../jobs/queue.js';
import { movePost } from './move.js';
import { lockPost, wholePosts } from './store.js';
import { isLater, meaningOf } from '@keyroster/core';
import { writePost } from './write-post.js';

/** Later than this counts as late in the log. */
export const LATE_MS = 10_000;

/** So many other due posts a release takes along, so that a rush shares its transactions. */
const TAKEN_ALONG = 24;

/**
 * Releases a post if it is due, and takes others along that are due too. Takes the rows' locks, looks again, then sets
 * the posts published and writes the log in one transaction. Run twice, or by two processes, the second finds nothing to
 * do; killed half-way, nothing has happened. The first lock may wait (somebody is storing the post); the others are
 * skipped when they are held, since their own jobs will come to them.
 */
export async function release(db: Db, postId: number): Promise<'released' | 'not due' | 'not scheduled'> {
  return db.transaction(async (trx: Trx) => {
    const held = await trx('posts').where({ id: postId, stage: 'scheduled' }).forUpdate().first<{ run_at: string; now: string } | undefined>('run_at', trx.raw('clock_timestamp() as now'));
    if (!held) return 'not scheduled';
    if (isLater(held.run_at, held.now)) {
      await planRelease(trx, postId, held.run_at);
      return 'not due';
    }
    const others = await trx('posts').where({ stage: 'scheduled' }).whereNot({ id: postId }).whereRaw('run_at <= clock_timestamp()').orderBy('run_at').orderBy('id').limit(TAKEN_ALONG).forUpdate().skipLocked().pluck<number[]>('id');
    const rows = await wholePosts(trx, [postId, ...others]);
    for (const row of rows) await movePost(trx, row, 'clock', { to: 'published' }, held.now);
    await trx('release_log').insert(rows.map((row) => {
      const backdated = isLater(row.scheduled_at!, row.run_at!);
      return {
        blog_id: row.blog_id, post_id: row.id, planned_local: row.run_local, planned_at: row.run_at,
        due_at: backdated ? row.scheduled_at : row.run_at, released_at: trx.raw('clock_timestamp()'), backdated,
        // A promised time is kept whatever the checks say: they ask before a post is scheduled, and are written down here.
        check_blocks: row.check_blocks, check_warns: row.check_warns,
      };
    }));
    await cancelReleases(trx, others);
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
