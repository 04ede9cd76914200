import type { Trx } from '../db/connect.js';

/** Every job and what it carries. */
export interface Jobs {
  release: { postId: number };
  measure: { postId: number };
  sizes: { mediaId: number };
  batch: { batchId: number };
  remeasure: { blogId: number };
  send: { sendId: number };
}

const releaseKey = (postId: number) => `release:${postId}`;

/** Has the post released at its run time; a later call for the same post replaces the earlier. Commits with the change that causes it. */
export async function planRelease(trx: Trx, postId: number, runAt: string): Promise<void> {
  await trx.raw(
    `select graphile_worker.add_job('release', payload => ?::json, run_at => ?::timestamptz, max_attempts => 25, job_key => ?, priority => 0)`,
    [JSON.stringify({ postId } satisfies Jobs['release']), runAt, releaseKey(postId)]);
}

export async function cancelReleases(trx: Trx, postIds: readonly number[]): Promise<void> {
  if (postIds.length > 0) await trx.raw('select graphile_worker.remove_job(key) from unnest(?::text[]) key', [postIds.map(releaseKey)]);
}

/** Has the post measured once its writer pauses: a later change replaces the job of an earlier one. */
export async function planMeasuring(trx: Trx, postId: number): Promise<void> {
  await trx.raw(`select graphile_worker.add_job('measure', payload => ?::json, run_at => now() + interval '1 second', max_attempts => 5, job_key => ?, priority => 5)`,
    [JSON.stringify({ postId } satisfies Jobs['measure']), `measure:${postId}`]);
}

/** Has the sizes for the page made. */
export async function planSizes(trx: Trx, mediaId: number): Promise<void> {
  await trx.raw(`select graphile_worker.add_job('sizes', payload => ?::json, max_attempts => 5, job_key => ?, priority => 3)`, [JSON.stringify({ mediaId } satisfies Jobs['sizes']), `sizes:${mediaId}`]);
}

/** Has a batch that waits applied. */
export async function planBatch(trx: Trx, batchId: number): Promise<void> {
  await trx.raw(`select graphile_worker.add_job('batch', payload => ?::json, max_attempts => 10, job_key => ?, priority => 1)`, [JSON.stringify({ batchId } satisfies Jobs['batch']), `batch:${batchId}`]);
}

/** Has all posts of a blog measured whose measures are out of date, one after the other. */
export async function planRemeasuring(trx: Trx, blogId: number): Promise<void> {
  await trx.raw(`select graphile_worker.add_job('remeasure', payload => ?::json, run_at => now() + interval '1 second', max_attempts => 5, job_key => ?, priority => 8)`, [JSON.stringify({ blogId } satisfies Jobs['remeasure']), `remeasure:${blogId}`]);
}
