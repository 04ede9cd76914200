import type { BatchView } from '@keyroster/contract';
import type { BatchChange } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { apply } from './apply.js';
import { batchItems, seeBatch } from './batch-views.js';
import { newBatch, newRevert, previewItems } from './preview.js';

/** Posts that one request changes; more are a batch's, with a preview. */
const MOST = 1000;

/**
 * Makes a change to some posts at once, as a batch of its own that can be taken back: all of them, or none with
 * the sentence of the first that refuses.
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

/** Takes a batch of not too many posts back at once, without a preview; what cannot go back is told. */
export async function undoBatch(trx: Trx, person: CurrentPerson, batchId: number): Promise<BatchView> {
  const ids = await trx('batch_items')
    .where({ batch_id: batchId, state: 'changes' })
    .orderBy('at')
    .limit(MOST + 1)
    .pluck<number[]>('post_id');
  if (ids.length > MOST)
    throw new ProblemError('too-large', 'That batch changed too many posts to be undone at once.');
  const { id, atOnce } = await newRevert(trx, person, batchId, false, { beside: true });
  await previewItems(trx, person, id, { changes: [], reverts: batchId, force: false, atOnce }, ids);
  return applyAtOnce(trx, person, id);
}

async function applyAtOnce(trx: Trx, person: CurrentPerson, id: number): Promise<BatchView> {
  await trx('batches').where({ id }).update({ state: 'waiting' });
  await apply(trx, id);
  const { open: _, letters: __, ...applied } = await seeBatch(trx, person, id);
  return applied;
}
