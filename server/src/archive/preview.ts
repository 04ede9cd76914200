import type { BatchPreview, ItemState, NewBatch } from '@keyroster/contract';
import { formatChange, type BatchChange, type BatchItem } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Reader, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { loadPosts } from '../posts/store.js';
import { batchNames } from './batch-names.js';
import { seeBatch } from './batch-views.js';
import { matchingIds } from './find.js';
import { foresightOf, type BatchPlan } from './foresee.js';

/** Posts that are looked at in one go; their texts are in memory together. */
const CHUNK = 1000;
const TEXT_CHUNK = 100;
/** How long a preview may look through texts before it says that it takes too long. */
const MAX_MS = 20_000;

interface Kept {
  p: number;
  v: number;
  n: number;
  s: ItemState;
  t: string;
  b: BatchItem['before'];
  a: BatchItem['after'];
}

async function keepItems(trx: Trx, batchId: number, items: readonly Kept[]): Promise<void> {
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
    /** What the person is previewing stays. */
    beside?: boolean;
  },
): Promise<number> {
  // What one previewed and did not apply gives way to the next.
  if (!beside)
    await trx('batches').where({ blog_id: person.blogId, person_id: person.id, state: 'previewed' }).delete();
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
  { changes, ids, line, except }: NewBatch,
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
  });
  await previewItems(trx, person, batchId, { changes, reverts: null, force: false }, chosen);
  return seeBatch(trx, person, batchId);
}

/** Says what taking a batch back would do to the posts as they stand now. */
export async function previewRevert(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  force: boolean,
): Promise<BatchPreview> {
  const batchId = await newRevert(trx, person, id, force);
  const ids = await trx('batch_items')
    .where({ batch_id: id, state: 'changes' })
    .orderBy('at')
    .pluck<number[]>('post_id');
  await previewItems(trx, person, batchId, { changes: [], reverts: id, force }, ids);
  return seeBatch(trx, person, batchId);
}

/** The row of a batch that takes another one back; throws a sentence where there is nothing to take back. */
export async function newRevert(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  force: boolean,
  { beside = false }: { beside?: boolean } = {},
): Promise<number> {
  const batch = await trx('batches')
    .where({ blog_id: person.blogId, id })
    .first<{ state: string; sentence: string; takes_back: number | null } | undefined>(
      'state',
      'sentence',
      'takes_back',
    );
  if (!batch) throw notFound('That batch');
  if (batch.state !== 'applied')
    throw new ProblemError('invalid', 'That batch was never applied, so there is nothing to take back.');
  if (await takenBackBy(trx, id)) throw new ProblemError('invalid', 'That batch is taken back already.');
  const again = batch.takes_back !== null;
  return newBatch(trx, person, {
    changes: [],
    sentence: again
      ? `Done again: ${batch.sentence.replace(/^Taken back: /, '')}`
      : `Taken back: ${batch.sentence.replace(/^Done again: /, '')}`,
    takes_back: id,
    force,
    beside,
  });
}

export async function previewItems(
  trx: Trx,
  person: CurrentPerson,
  batchId: number,
  plan: BatchPlan,
  ids: readonly number[],
): Promise<void> {
  const answer = await foresightOf(trx, person, { ...plan, preview: true }, ids);
  if (!answer.ok) throw new ProblemError('invalid', answer.sentence);
  const { foresight } = answer;
  const step = foresight.text ? TEXT_CHUNK : CHUNK;
  const began = Date.now();
  for (let at = 0; at < ids.length; at += step) {
    if (foresight.text && Date.now() - began > MAX_MS)
      throw new ProblemError(
        'invalid',
        `Looking through these texts takes longer than ${MAX_MS / 1000} seconds. ` +
          'Choose fewer posts, or a simpler pattern. Nothing was written.',
      );
    const posts = await loadPosts(trx, person.blogId, ids.slice(at, at + step), foresight);
    const foreseen = await foresight.foresee(posts);
    const kept = posts.map((post, i): Kept => {
      const { outcome, sentence } = foreseen[i]!;
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
    await keepItems(trx, batchId, kept);
  }
}

async function takenBackBy(db: Reader, id: number): Promise<number | null> {
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
