import type { Trx } from '../db/connect.js';

/** Every job and what it carries. */
export interface Jobs {
  release: { postId: number };
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
