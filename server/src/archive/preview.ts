import type { BatchPreview, ItemState, NewBatch } from '@keyroster/contract';
import { formatChange, type BatchChange, type BatchItem } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { loadPosts } from '../posts/store.js';
import { storeRevertedChores } from './batch-chores.js';
import { batchNames } from './batch-names.js';
import { seeBatch } from './batch-views.js';
import { matchingIds } from './find.js';
import { predictorOf, readsTexts, type BatchPlan, type Predictor } from './predict.js';
import { planLook } from '../jobs/queue.js';

/** Posts that are looked at in one go; their texts are in memory together. */
const CHUNK = 500;
const TEXT_CHUNK = 100;
/** An item on its way into the database. */
export interface FutureItem {
  p: number;
  v: number;
  n: number;
  s: ItemState;
  t: string;
  b: BatchItem['before'];
  a: BatchItem['after'];
}

export async function storeItems(trx: Trx, batchId: number, items: readonly FutureItem[]): Promise<void> {
  await trx.raw(
    `
      insert into
        batch_items (batch_id, post_id, at, version, state, sentence, before, after)
      select
        ?,
        x.p,
        x.n,
        x.v,
        x.s,
        x.t,
        x.b,
        x.a
      from
        jsonb_to_recordset(?::jsonb) as x (p int, v int, n int, s text, t text, b jsonb, a jsonb)
    `,
    [batchId, JSON.stringify(items)],
  );
}

export async function newBatch(
  trx: Trx,
  person: CurrentPerson,
  {
    beside = false,
    ...row
  }: {
    changes: readonly BatchChange[];
    sentence: string;
    line?: string;
    takes_back?: number;
    force?: boolean;
    at_once?: boolean;
    /** What the person is previewing stays. */
    beside?: boolean;
  },
): Promise<number> {
  // What one previewed and did not apply gives way to the next.
  if (!beside)
    await trx('batches')
      .where({ blog_id: person.blogId, person_id: person.id })
      .whereIn('state', ['looking', 'previewed'])
      .delete();
  const [made] = await trx('batches')
    .insert({ blog_id: person.blogId, person_id: person.id, ...row, changes: JSON.stringify(row.changes) })
    .returning<{ id: number }[]>('id');
  return made!.id;
}

/**
 * Says what a batch would do, post by post, and keeps it so that exactly that can be applied. Writes no post.
 */
export async function previewBatch(
  trx: Trx,
  person: CurrentPerson,
  { changes, ids, line, except, atOnce = true }: NewBatch,
): Promise<BatchPreview> {
  const left = new Set(except);
  const chosen = (ids ? [...new Set(ids)] : await matchingIds(trx, person, { line })).filter(
    (id) => !left.has(id),
  );
  if (chosen.length === 0) throw new ProblemError('invalid', 'No post is chosen.');
  const names = await batchNames(trx, person.blogId);
  const batchId = await newBatch(trx, person, {
    changes,
    sentence: changes.map((c) => formatChange(c, names)).join('; '),
    line: line ?? '',
    at_once: atOnce,
  });
  return preview(trx, person, batchId, { changes, reverts: null, force: false, atOnce }, chosen);
}

/** Previews a batch of one change in which the posts may be none, since chores go with it. */
export async function previewWithChores(
  trx: Trx,
  person: CurrentPerson,
  change: BatchChange,
  ids: readonly number[],
  keepChores: (batchId: number) => Promise<void>,
): Promise<BatchPreview> {
  const sentence = formatChange(change, await batchNames(trx, person.blogId));
  const batchId = await newBatch(trx, person, { changes: [change], sentence });
  await keepChores(batchId);
  return preview(trx, person, batchId, { changes: [change], reverts: null, force: false, atOnce: true }, ids);
}

/** Says what taking a batch back would do to the posts as they stand now. */
export async function previewRevert(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  force: boolean,
): Promise<BatchPreview> {
  const { id: batchId, atOnce } = await newRevert(trx, person, id, force);
  const ids = await trx('batch_items')
    .where({ batch_id: id, state: 'changes' })
    .orderBy('at')
    .pluck<number[]>('post_id');
  return preview(trx, person, batchId, { changes: [], reverts: id, force, atOnce }, ids);
}

/** The row of a batch that takes another one back; throws a sentence where there is nothing to take back. */
export async function newRevert(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  force: boolean,
  { beside = false }: { beside?: boolean } = {},
): Promise<{ id: number; atOnce: boolean }> {
  const batch = await trx('batches')
    .where({ blog_id: person.blogId, id })
    .first<{ state: string; sentence: string; takes_back: number | null; at_once: boolean } | undefined>(
      'state',
      'sentence',
      'takes_back',
      'at_once',
    );
  if (!batch) throw notFound('That batch');
  if (batch.state !== 'applied')
    throw new ProblemError('invalid', 'That batch was never applied, so there is nothing to undo.');
  if (await takenBackBy(trx, id)) throw new ProblemError('invalid', 'That batch is undone already.');
  const again = batch.takes_back !== null;
  const made = await newBatch(trx, person, {
    changes: [],
    sentence: again
      ? `Redone: ${batch.sentence.replace(/^(Undone|Taken back): /, '')}`
      : `Undone: ${batch.sentence.replace(/^(Redone|Done again): /, '')}`,
    takes_back: id,
    force,
    at_once: batch.at_once,
    beside,
  });
  await storeRevertedChores(trx, made, id);
  return { id: made, atOnce: batch.at_once };
}

/** Looks at posts in the caller's transaction. */
export async function previewItems(
  trx: Trx,
  person: CurrentPerson,
  batchId: number,
  plan: BatchPlan,
  ids: readonly number[],
): Promise<void> {
  const answer = await predictorOf(trx, person, { ...plan, preview: true }, ids);
  if (!answer.ok) throw new ProblemError('invalid', answer.sentence);
  for (const part of partsOf(ids, answer.predictor))
    await storeItems(trx, batchId, await predictedItems(trx, person.blogId, answer.predictor, part));
}

/** Looks at posts now when that is quick, else leaves it to a job. */
async function preview(
  trx: Trx,
  person: CurrentPerson,
  batchId: number,
  plan: BatchPlan,
  ids: readonly number[],
): Promise<BatchPreview> {
  if (ids.length > TEXT_CHUNK && (await readsTexts(trx, plan))) {
    await trx('batches')
      .where({ id: batchId })
      .update({ state: 'looking', chosen: [...ids], looked_at: trx.raw('clock_timestamp()') });
    await planLook(trx, batchId);
  } else await previewItems(trx, person, batchId, plan, ids);
  return seeBatch(trx, person, batchId);
}

/** A few posts of a batch, those from `at` on in its order. */
export interface Part {
  at: number;
  ids: readonly number[];
}

export function* partsOf(ids: readonly number[], { text }: Predictor): Generator<Part> {
  const step = text ? TEXT_CHUNK : CHUNK;
  for (let at = 0; at < ids.length; at += step) yield { at, ids: ids.slice(at, at + step) };
}

/** What becomes of a part of the posts, as it is kept with the batch. */
export async function predictedItems(
  db: Queryable,
  blogId: number,
  predictor: Predictor,
  { at, ids }: Part,
): Promise<FutureItem[]> {
  const posts = await loadPosts(db, blogId, ids, predictor);
  const predictions = await predictor.predict(posts);
  return posts.map((post, i): FutureItem => {
    const { outcome, sentence } = predictions[i]!;
    const { before, after } = outcome.state === 'changes' ? outcome.item : { before: {}, after: {} };
    return {
      p: post.id,
      v: post.version,
      n: at + i,
      s: outcome.state,
      t: outcome.state === 'refused' ? outcome.sentence : sentence,
      b: before,
      a: after,
    };
  });
}

async function takenBackBy(db: Queryable, id: number): Promise<number | null> {
  const row = await db('batches as b')
    .where({ 'b.takes_back': id, 'b.state': 'applied' })
    .whereNotExists((q) =>
      q.from('batches as c').whereRaw(`
      c.takes_back = b.id
      and c.state = 'applied'
    `),
    )
    .orderBy('b.id', 'desc')
    .first<{ id: number } | undefined>('b.id');
  return row?.id ?? null;
}
