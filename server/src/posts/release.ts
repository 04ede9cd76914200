import { isLater, meaningOf } from '@keyroster/core';
import type { Db, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { cancelReleases, planReleases } from '../jobs/queue.js';
import { log } from '../log.js';
import { editPosts } from './edit.js';
import type { EffectOn } from './effects.js';

/** Later than this counts as late in the log. */
export const LATE_MS = 10_000;

/** A release includes so many other due posts, so that a rush shares its transactions. */
const TAKEN_ALONG = 24;

/**
 * Releases a post if it is due, and takes others along that are due too. Takes the rows' locks, looks again,
 * then sets the posts published and writes the log in one transaction. Run twice, or by two processes, the
 * second finds nothing to do; killed half-way, nothing has happened. The first lock may wait (somebody is
 * storing the post); the others are skipped when they are held, since their own jobs will come to them.
 */
export async function release(db: Db, postId: number): Promise<'released' | 'not due' | 'not scheduled'> {
  return inTransaction(db, async (trx: Trx) => {
    const held = await trx('posts')
      .where({ id: postId, stage: 'scheduled' })
      .forUpdate()
      .first<{ run_at: string; now: string } | undefined>('run_at', trx.raw('clock_timestamp() as now'));
    if (!held) return 'not scheduled';
    if (isLater(held.run_at, held.now)) {
      await planReleases(trx, [{ postId, runAt: held.run_at }]);
      return 'not due';
    }
    const others = await trx('posts')
      .where({ stage: 'scheduled' })
      .whereNot({ id: postId })
      .whereRaw('run_at <= clock_timestamp()')
      .orderBy('run_at')
      .orderBy('id')
      .limit(TAKEN_ALONG)
      .forUpdate()
      .skipLocked()
      .pluck<number[]>('id');
    const due = await trx('posts')
      .whereIn('id', [postId, ...others])
      .orderBy('run_at')
      .orderBy('id')
      .select<{ id: number; blog_id: number }[]>('id', 'blog_id');
    for (const blogId of new Set(due.map((p) => p.blog_id))) {
      const ids = due.filter((p) => p.blog_id === blogId).map((p) => p.id);
      await editPosts(trx, blogId, 'clock', ids, () => [{ kind: 'move', to: 'published' }], {
        now: held.now,
      });
    }
    await cancelReleases(trx, others);
    return 'released';
  });
}

/** Writes the release log: every release, planned against actual. */
export async function logReleases(trx: Trx, effects: readonly EffectOn<'released'>[]): Promise<void> {
  const checks = await trx('posts')
    .whereIn(
      'id',
      effects.map(({ on }) => on.after.id),
    )
    .select<{ id: number; blocks: number; warns: number }[]>(
      'id',
      'check_blocks as blocks',
      'check_warns as warns',
    );
  const checksOf = new Map(checks.map((p) => [p.id, p]));
  await trx('release_log').insert(
    effects.map(({ on: { blogId, before } }) => {
      const { run, scheduledAt } = before;
      const backdated = isLater(scheduledAt!, run!.at);
      return {
        blog_id: blogId,
        post_id: before.id,
        planned_local: run!.local,
        planned_at: run!.at,
        due_at: backdated ? scheduledAt : run!.at,
        released_at: trx.raw('clock_timestamp()'),
        backdated,
        // A promised time is kept whatever the checks say: they ask before a post is scheduled, and are
        // written down here.
        check_blocks: checksOf.get(before.id)?.blocks ?? null,
        check_warns: checksOf.get(before.id)?.warns ?? null,
      };
    }),
  );
}

/** Plans the jobs of releases, and cancels those that are off. */
export async function followRunTimes(
  trx: Trx,
  effects: readonly EffectOn<'release planned'>[],
): Promise<void> {
  const off = effects.filter((e) => e.at === null).map(({ on }) => on.after.id);
  await cancelReleases(trx, off);
  const planned = effects.flatMap(({ at, on }) => (at === null ? [] : [{ postId: on.after.id, runAt: at }]));
  await planReleases(trx, planned);
}

/**
 * Adds a job for every post that is due and not out, in order of run time: after an outage, and as a net
 * under the jobs.
 */
export async function planOverdue(db: Db): Promise<number> {
  const due = await db('posts')
    .where({ stage: 'scheduled' })
    .whereRaw('run_at <= clock_timestamp()')
    .orderBy('run_at')
    .orderBy('id')
    .select<{ id: number; run_at: string }[]>('id', 'run_at');
  const releases = due.map(({ id, run_at }) => ({ postId: id, runAt: run_at }));
  await inTransaction(db, (trx) => planReleases(trx, releases));
  return due.length;
}

/** When zone rules changed, wall times stand: their instants are worked out again. */
export async function keepWallTimes(db: Db): Promise<void> {
  const coming = await db('posts')
    .whereNotNull('run_local')
    .whereNot({ stage: 'published' })
    .whereRaw('run_at > now()')
    .select<{ id: number; blog_id: number; run_local: string; run_zone: string; run_at: string }[]>(
      'id',
      'blog_id',
      'run_local',
      'run_zone',
      'run_at',
    );
  for (const post of coming) {
    const meaning = meaningOf(post.run_local, post.run_zone);
    const at =
      meaning?.kind === 'exact'
        ? meaning.at
        : (meaning?.choices.find((c) => c.at === post.run_at)?.at ?? meaning?.choices[0].at);
    if (!at || at === post.run_at) continue;
    await inTransaction(db, async (trx) => {
      await editPosts(trx, post.blog_id, 'clock', [post.id], ({ run }) =>
        run?.local === post.run_local ? [{ kind: 'set', values: { run: { ...run, at } } }] : [],
      );
      log.info({ postId: post.id, from: post.run_at, to: at }, 'zone rules changed; the wall time stands');
    });
  }
}
