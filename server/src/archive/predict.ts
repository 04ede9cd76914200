import {
  backward,
  deskText,
  bodyWords,
  fieldLabels,
  predictorFor,
  formatList,
  valuesBack,
  type BatchChange,
  type BatchContext,
  type BatchItem,
  type BodyNode,
  type Outcome,
  type Post,
  type PostEdit,
  type Rewritten,
} from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { inTurns } from '../work/turns.js';
import { rewritesOf, type ReplaceChange } from '../work/computing.js';
import { loadBlocking } from '../posts/blocking.js';
import { namedBy, notHere } from './predict-named.js';
import { spreadFor } from './predict-spread.js';
import { editContextFor, editContext, type Named, type Work } from '../posts/context.js';

/** What a batch is to do: changes, or another batch to be taken back. */
export interface BatchPlan {
  changes: readonly BatchChange[];
  reverts: number | null;
  /** Takes back also what was changed since. */
  force: boolean;
  /** Readers of published posts see it at once, and not once each is updated. */
  atOnce: boolean;
  /** Nothing is written yet. */
  preview?: boolean;
}

export interface Prediction {
  outcome: Outcome;
  /** A remark about the item, apart from the reason of a refusal. */
  sentence: string;
}

/** Says what a batch does to posts, a chunk of them after the other. */
export interface Predictor {
  /** Must the posts come with their texts? */
  text: boolean;
  predict(posts: readonly Post[]): Promise<Prediction[]>;
}

/** Pictures that were drawn lighter, by picture and weight; see `lighterKey`. */
export type Lighter = ReadonlyMap<string, number>;
export const lighterKey = (media: number, maxBytes: number): string => `${media}:${maxBytes}`;

export type PredictorAnswer = { ok: true; predictor: Predictor } | { ok: false; sentence: string };

/**
 * Makes the predictor of a batch for those posts: the same for its preview and for applying it, so that a rule
 * that holds for one holds for the other.
 */
export async function predictorOf(
  db: Queryable,
  person: CurrentPerson,
  plan: BatchPlan,
  ids: readonly number[],
  lighter: Lighter = new Map(),
): Promise<PredictorAnswer> {
  return plan.reverts === null
    ? forwards(db, person, plan, ids, lighter)
    : { ok: true, predictor: await backwards(db, person, plan, lighter) };
}

const clearsSome = (changes: readonly BatchChange[]) =>
  changes.some((c) => c.kind === 'stage' && (c.to === 'cleared' || c.to === 'scheduled'));

/** Must the texts of the posts be looked at, and not only what stands beside them? */
export async function readsTexts(
  db: Queryable,
  { changes, reverts }: Pick<BatchPlan, 'changes' | 'reverts'>,
): Promise<boolean> {
  if (reverts === null)
    return clearsSome(changes) || changes.some((c) => c.kind === 'replace' && c.places.includes('text'));
  const { rows } = await db.raw<{ rows: { text: boolean }[] }>(
    `
      select
        exists (
          select
            1
          from
            batch_items
          where
            batch_id = ?
            and state = 'changes'
            and (before \\? 'body' or before ->> 'stage' in ('cleared', 'scheduled'))
        ) as text
    `,
    [reverts],
  );
  return rows[0]!.text;
}

async function forwards(
  db: Queryable,
  person: CurrentPerson,
  { changes, preview, atOnce }: BatchPlan,
  ids: readonly number[],
  lighter: Lighter,
): Promise<PredictorAnswer> {
  const clears = clearsSome(changes);
  const text = await readsTexts(db, { changes, reverts: null });
  const anySlug = clears || changes.some((c) => c.kind === 'replace' && c.places.includes('slug'));
  const named: Named = { ...namedBy(changes, lighter), slugs: anySlug ? 'all' : [] };
  const context = await editContext(db, person.blogId, person, named, {
    pastRun: 'refused',
    preview,
    atOnce,
  });
  const missing = notHere(named, context);
  if (missing) return { ok: false, sentence: missing };
  let bytes: ReadonlyMap<number, number> = new Map();
  let blocking: BatchContext['blocking'] = () => [];
  let texts: RewrittenTexts = new Map();
  const made = predictorFor(changes, {
    ...context,
    blocking: (post) => blocking(post),
    // A batch is the desk's: it asks for changes, and takes no hand-in back.
    opened: () => true,
    spread: await spreadFor(db, person, changes, ids, context),
    bytesOf: (media) => bytes.get(media),
    lighter: (media, maxBytes) => lighter.get(lighterKey(media, maxBytes)),
    rewritten: (change, body) => texts.get(change)?.get(body),
  });
  if (!made.ok) return made;
  const replaces = changes.filter((c) => c.kind === 'replace').filter((c) => c.places.includes('text'));
  const lightens = changes.some((c) => c.kind === 'lighten');
  return {
    ok: true,
    predictor: {
      text,
      predict: async (posts) => {
        if (lightens) bytes = await bytesOf(db, posts);
        if (replaces.length > 0) texts = await rewrittenTexts(replaces, posts);
        if (clears) blocking = await loadBlocking(db, person.blogId, posts);
        return inTurns(posts, (post) => ({ outcome: made.predict(post), sentence: '' }));
      },
    },
  };
}

async function backwards(
  db: Queryable,
  person: CurrentPerson,
  { reverts, force, preview, atOnce }: BatchPlan,
  lighter: Lighter,
): Promise<Predictor> {
  const batchId = reverts!;
  const text = await readsTexts(db, { changes: [], reverts });
  return {
    text,
    predict: async (posts) => {
      const items = await itemsOf(db, batchId, posts);
      const work: Work[] = posts.map((post) => ({ post, edits: [revertEdit(items.get(post.id)!, force)] }));
      const context = await editContextFor(db, person.blogId, person, work, {
        pastRun: 'refused',
        preview,
        atOnce,
      });
      const predict = backward({
        ...context,
        spread: new Map(),
        bytesOf: () => undefined,
        rewritten: () => undefined,
        lighter: (media, maxBytes) => lighter.get(lighterKey(media, maxBytes)),
      });
      return inTurns(work, ({ post, edits }) => {
        const edit = edits[0] as Extract<PostEdit, { kind: 'revert' }>;
        return { outcome: predict(post, edit), sentence: formatSince(valuesBack(post, edit).since, force) };
      });
    },
  };
}

function revertEdit(item: BatchItem, force: boolean): PostEdit {
  const { body } = item.before;
  return { kind: 'revert', item, force, ...(body ? { words: bodyWords(body) } : {}) };
}

function formatSince(since: readonly string[], force: boolean): string {
  if (since.length === 0) return '';
  return `${formatList(fieldLabels(since))} changed since${force ? ', undone all the same' : ' and kept'}`;
}

async function itemsOf(
  db: Queryable,
  batchId: number,
  posts: readonly Post[],
): Promise<Map<number, BatchItem>> {
  const rows = await db('batch_items')
    .where({ batch_id: batchId })
    .whereRaw('post_id = any(?)', [posts.map((p) => p.id)])
    .select<({ post_id: number } & BatchItem)[]>('post_id', 'before', 'after');
  return new Map(rows.map(({ post_id, before, after }) => [post_id, { before, after }]));
}

type RewrittenTexts = ReadonlyMap<ReplaceChange, ReadonlyMap<BodyNode, Rewritten>>;

/** Works out, in another thread, what replacing makes of texts; of each, one change after the other. */
async function rewrittenTexts(
  changes: readonly ReplaceChange[],
  posts: readonly Post[],
): Promise<RewrittenTexts> {
  const texts = new Map(changes.map((c) => [c, new Map<BodyNode, Rewritten>()]));
  const bodies = posts.flatMap((p) => deskText(p) ?? []);
  const all = await rewritesOf(changes, bodies);
  bodies.forEach((body, i) => {
    let now = body;
    for (const [step, rewritten] of all[i]!.entries()) {
      texts.get(changes[step]!)!.set(now, rewritten);
      if (rewritten.state === 'changed') now = rewritten.body;
    }
  });
  return texts;
}

async function bytesOf(db: Queryable, posts: readonly Post[]): Promise<Map<number, number>> {
  const rows = await db('media')
    .whereRaw('id = any(?)', [posts.flatMap((p) => p.leadPicture?.media ?? [])])
    .select<{ id: number; size: number }[]>('id', 'size');
  return new Map(rows.map((m) => [m.id, m.size]));
}
