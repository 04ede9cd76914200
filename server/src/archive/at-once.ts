import type { BatchView } from '@keyroster/contract';
import type { BatchChange } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { planBatch } from '../jobs/queue.js';
import { apply } from './apply.js';
import { batchItems, seeBatch } from './batch-views.js';
import { newBatch, newRevert, previewItems } from './preview.js';

/** Posts that a request changes while it is waited for; more are changed by a job, still all or none. */
const WHILE_WAITING = 1000;

/**
 * Makes a change to posts, as a batch of its own that can be undone: all of them, or none with the sentence of the
 * first that refuses. The batch is applied when it is answered, or, where it is of very many posts, waits for a job.
 */
export async function changeAtOnce(
  trx: Trx,
  person: CurrentPerson,
  changes: readonly BatchChange[],
  ids: readonly number[],
  sentence: string,
): Promise<BatchView> {
  const id = await newBatch(trx, person, { changes, sentence, beside: true });
  await previewItems(trx, person, id, { changes, reverts: null, force: false, atOnce: true }, ids);
  const [refused] = await batchItems(trx, person, id, { state: 'refused', limit: 1 });
  if (refused) throw new ProblemError('no-such-move', `“${refused.title}”: ${refused.sentence}`);
  return applyAtOnce(trx, person, id);
}

/** Undoes a batch without a preview; what cannot go back is told. */
export async function undoBatch(trx: Trx, person: CurrentPerson, batchId: number): Promise<BatchView> {
  const ids = await trx('batch_items')
    .where({ batch_id: batchId, state: 'changes' })
    .orderBy('at')
    .pluck<number[]>('post_id');
  const { id, atOnce } = await newRevert(trx, person, batchId, false, { beside: true });
  await previewItems(trx, person, id, { changes: [], reverts: batchId, force: false, atOnce }, ids);
  return applyAtOnce(trx, person, id);
}

async function applyAtOnce(trx: Trx, person: CurrentPerson, id: number): Promise<BatchView> {
  await trx('batches').where({ id }).update({ state: 'waiting' });
  const { counts } = await seeBatch(trx, person, id);
  if (counts.changes > WHILE_WAITING) await planBatch(trx, id);
  else await apply(trx, id);
  const { open: _, letters: __, ...applied } = await seeBatch(trx, person, id);
  return applied;
}
