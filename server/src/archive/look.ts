import type { BatchChange } from '@keyroster/core';
import { findPerson } from '../accounts/who.js';
import type { Db, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import type { CurrentPerson } from '../http/current-person.js';
import { ProblemError, notFound } from '../http/problem.js';
import { planLook } from '../jobs/queue.js';
import { emit } from '../live/live.js';
import { predictorOf } from './predict.js';
import { predictedItems, storeItems, partsOf } from './preview.js';

/** A look without a sign of life for so long is restarted: its process has ended. */
const SILENT = '3 minutes';

interface Looked {
  blog_id: number;
  person_id: number;
  changes: BatchChange[];
  takes_back: number | null;
  force: boolean;
  at_once: boolean;
  chosen: number[];
}

/**
 * Looks through the posts of a batch, a part of them in each transaction, and says after each how far it is. It ends
 * early when the batch is cancelled or another process has restarted it. Killed half-way, it is restarted.
 */
export async function lookThrough(db: Db, id: number): Promise<void> {
  const batch = await beginLook(db, id);
  if (!batch) return;
  try {
    await look(db, id, batch);
  } catch (error) {
    // Whatever may go better at the next try is tried again by the job.
    if (!(error instanceof ProblemError) || error.code === 'busy') throw error;
    await inTransaction(db, async (trx) => {
      const failed = await trx('batches')
        .where({ id, state: 'looking' })
        .update({ state: 'failed', error: `${error.message} Nothing was written.`, chosen: null, done: 0 });
      if (failed > 0) await tell(trx, batch);
    });
  }
}

async function beginLook(db: Db, id: number): Promise<Looked | undefined> {
  return inTransaction(db, async (trx) => {
    const batch = await trx('batches')
      .where({ id, state: 'looking' })
      .forUpdate()
      .first<Looked | undefined>(
        'blog_id',
        'person_id',
        'changes',
        'takes_back',
        'force',
        'at_once',
        'chosen',
      );
    if (!batch) return undefined;
    await trx('batch_items').where({ batch_id: id }).delete();
    await trx('batches')
      .where({ id })
      .update({ done: 0, looked_at: trx.raw('clock_timestamp()') });
    return batch;
  });
}

async function look(db: Db, id: number, batch: Looked): Promise<void> {
  const person = await findPerson(db, batch.person_id, batch.blog_id);
  if (!person)
    throw new ProblemError('invalid', 'The person who requested this has no account here any more.');
  const plan = {
    changes: batch.changes,
    reverts: batch.takes_back,
    force: batch.force,
    atOnce: batch.at_once,
    preview: true,
  };
  const answer = await predictorOf(db, person, plan, batch.chosen);
  if (!answer.ok) throw new ProblemError('invalid', answer.sentence);
  for (const part of partsOf(batch.chosen, answer.predictor)) {
    // Outside a transaction: a pattern may take its time over these texts.
    const items = await predictedItems(db, batch.blog_id, answer.predictor, part);
    const ours = await inTransaction(db, async (trx) => {
      // Only where it was left, so that of two that look one ends here.
      const going = await trx('batches')
        .where({ id, state: 'looking', done: part.at })
        .update({ done: part.at + part.ids.length, looked_at: trx.raw('clock_timestamp()') });
      if (going === 0) return false;
      await storeItems(trx, id, items);
      return true;
    });
    if (!ours) return;
  }
  await inTransaction(db, async (trx) => {
    await trx('batches')
      .where({ id, state: 'looking', done: batch.chosen.length })
      .update({ state: 'previewed', done: 0, chosen: null });
    await tell(trx, batch);
  });
}

const tell = (trx: Trx, { blog_id, person_id }: Looked) =>
  emit(trx, { blogId: blog_id, kind: 'batch', personId: person_id });

/** Restarts looks that ended with their process. */
export async function planLooking(db: Db): Promise<void> {
  await inTransaction(db, async (trx) => {
    const silent = await trx('batches')
      .where({ state: 'looking' })
      .whereRaw(`looked_at < clock_timestamp() - interval '${SILENT}'`)
      .pluck<number[]>('id');
    for (const id of silent) await planLook(trx, id);
  });
}

/** Ends one's own look, or lets one's own preview go. */
export async function cancelPreview(trx: Trx, person: CurrentPerson, id: number): Promise<null> {
  const gone = await trx('batches')
    .where({ blog_id: person.blogId, person_id: person.id, id })
    .whereIn('state', ['looking', 'previewed'])
    .delete();
  if (gone === 0) throw notFound('That preview');
  return null;
}
