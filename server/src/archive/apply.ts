import type { BatchView } from '@keyroster/contract';
import { type BatchChange } from '@keyroster/core';
import { findPerson } from '../accounts/who.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Db, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { ProblemError } from '../http/problem.js';
import { planBatch } from '../jobs/queue.js';
import { emit } from '../live/live.js';
import { log } from '../log.js';
import { loadPosts } from '../posts/store.js';
import { writePosts } from '../posts/write.js';
import { giveChores } from './batch-chores.js';
import { ownPreview, seeBatch } from './batch-views.js';
import { storeOutcomes, lockItems, sortOut } from './apply-items.js';
import { predictorOf, type Lighter } from './predict.js';
import { drawLighter } from './lighten.js';
import { TookTooLong } from '../work/pool.js';
import { Unfit } from './unfit.js';

/** Posts predicted and written in one go; their texts are in memory together. */
const CHUNK = 1000;
const TEXT_CHUNK = 100;

/** Has a previewed batch applied by the next free worker. */
export async function requestApply(trx: Trx, person: CurrentPerson, id: number): Promise<BatchView> {
  await ownPreview(trx, person, id);
  const { counts, chores } = await seeBatch(trx, person, id);
  if (counts.changes === 0 && chores === 0) throw new ProblemError('invalid', 'This batch changes no post.');
  await trx('batches')
    .where({ id })
    .update({ state: 'waiting', done: 0, error: '', made_at: trx.raw('clock_timestamp()') });
  await planBatch(trx, id);
  const { open: _, letters: __, ...waiting } = await seeBatch(trx, person, id);
  return waiting;
}

/**
 * Applies a batch that waits, in one transaction: all of it or nothing. Killed half-way, nothing has
 * happened, the batch still waits, and a later job applies it. Two processes, or a batch that is applied
 * already: the second finds nothing to do.
 * When posts were changed since the preview in what the batch changes, nothing is written and the batch says
 * so.
 */
export async function applyBatch(db: Db, id: number): Promise<void> {
  try {
    const lighter = await drawLighter(db, id);
    // Told on another connection, since that of the transaction is heard only at the end.
    const notifyDone = (done: number) => db('batches').where({ id, state: 'waiting' }).update({ done });
    await inTransaction(db, (trx) => apply(trx, id, lighter, notifyDone));
  } catch (error) {
    const sentence = isFinal(error) ? error.message : constraintSentence(error);
    if (!sentence) throw error;
    await inTransaction(db, async (trx) => {
      const [row] = await trx('batches')
        .where({ id, state: 'waiting' })
        .update({ state: 'failed', error: `${sentence} Nothing was written.`, done: 0 })
        .returning<{ blog_id: number }[]>('blog_id');
      if (row) await emit(trx, { blogId: row.blog_id, kind: 'batch' });
    });
    log.info({ batch: id, sentence }, 'batch not applied');
  }
}

/** Errors that another try would not fix: it cannot be applied, or its texts are more than can be worked through. */
const isFinal = (error: unknown): error is Error =>
  error instanceof Unfit ||
  error instanceof TookTooLong ||
  (error instanceof ProblemError && error.code === 'too-large');

/**
 * What PostgreSQL refuses because of the data, in a sentence; anything else is a fault of ours or of the
 * machine, and is tried again.
 */
function constraintSentence(error: unknown): string | null {
  const { code, detail } = error as { code?: string; detail?: string };
  if (code === '23505')
    return (
      'Two posts would have the same web address ' +
      `(${/\(([^)]*)\)=\(\d+, ([^)]*)\)/.exec(detail ?? '')?.[2] ?? 'see the preview'}).`
    );
  if (code?.startsWith('23')) return 'What it changes to is no longer on the blog.';
  return null;
}

interface BatchRow {
  blog_id: number;
  person_id: number;
  changes: BatchChange[];
  takes_back: number | null;
  force: boolean;
  at_once: boolean;
}

/** Applies a waiting batch in the caller's transaction. `told` hears how many posts have been looked at. */
export async function apply(
  trx: Trx,
  id: number,
  lighter: Lighter = new Map(),
  told: (seen: number) => Promise<unknown> = () => Promise.resolve(),
): Promise<void> {
  const batch = await lockBatch(trx, id);
  if (!batch) return;
  // As they are now: a category or a role may be lost since the preview.
  const person = await findPerson(trx, batch.person_id, batch.blog_id);
  if (!person) throw new Unfit('The person who previewed this has no account here any more.');
  const ids = await lockItems(trx, id);
  const plan = {
    changes: batch.changes,
    reverts: batch.takes_back,
    force: batch.force,
    atOnce: batch.at_once,
  };
  const answer = await predictorOf(trx, person, plan, ids, lighter);
  if (!answer.ok) throw new Unfit(answer.sentence);
  const { predictor } = answer;
  const size = predictor.text ? TEXT_CHUNK : CHUNK;
  let [done, seen] = [0, 0];
  for (let at = 0; at < ids.length; at += size) {
    const chunk = ids.slice(at, at + size);
    const posts = await loadPosts(trx, batch.blog_id, chunk, predictor);
    const sorted = await sortOut(trx, id, posts, await predictor.predict(posts), lighter);
    await storeOutcomes(trx, id, sorted);
    await writePosts(trx, batch.blog_id, sorted.writes, person.id, { silent: true });
    done += sorted.writes.length;
    seen += chunk.length;
    if (ids.length > size) await told(seen);
  }
  const chores = await giveChores(trx, id, person);
  await trx('batches')
    .where({ id })
    .update(
      done === 0 && chores === 0
        ? { state: 'failed', error: 'No post is still as it was previewed. Nothing was written.', done }
        : { state: 'applied', applied_at: trx.raw('clock_timestamp()'), changed: done, done, error: '' },
    );
  await emit(trx, { blogId: batch.blog_id, kind: 'batch', personId: batch.person_id });
  log.info({ batch: id, posts: done, chores }, 'batch applied');
}

/** The waiting batch, if nobody else is at it. */
async function lockBatch(trx: Trx, id: number): Promise<BatchRow | undefined> {
  const { rows } = await trx.raw<{ rows: { free: boolean }[] }>(
    'select pg_try_advisory_xact_lock(4312, ?) as free',
    [id],
  );
  if (!rows[0]!.free) return undefined;
  return trx('batches')
    .where({ id, state: 'waiting' })
    .first<BatchRow | undefined>('blog_id', 'person_id', 'changes', 'takes_back', 'force', 'at_once');
}

/** Batches that wait and that nobody is at, after a process was killed, find a worker again. */
export async function planWaiting(db: Db): Promise<void> {
  const waiting = await db('batches')
    .where({ state: 'waiting' })
    .whereRaw(`made_at < now() - interval '20 seconds'`)
    .orderBy('id')
    .pluck<number[]>('id');
  for (const id of waiting) {
    const {
      rows: [held],
    } = await db.raw<{ rows: { held: boolean }[] }>(
      `
        select
          exists (
            select
              1
            from
              pg_locks
            where
              locktype = 'advisory'
              and classid = 4312
              and objid = ?
          ) as held
      `,
      [id],
    );
    if (!held!.held) await inTransaction(db, (trx) => planBatch(trx, id));
  }
}
