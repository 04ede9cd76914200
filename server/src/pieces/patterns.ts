import type { FieldValues, NewPattern, PatternFrom, PatternView } from '@keyroster/contract';
import { saveAddition, saveChange, saveRemoval, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { type WholePostRow } from '../posts/store.js';
import { type ReadyPieces, preparePieces } from './pieces.js';
import { pieceRows } from './piece-rows.js';
import { mustSend } from '../outlets/permissions.js';

interface PatternRow {
  id: number;
  name: string;
  stops: PatternView['stops'];
  format_id: number | null;
  category_id: number | null;
  campaign_id: number | null;
  by_itself: boolean;
  version: number;
}

const patternOf = (r: PatternRow): PatternView => ({
  id: r.id,
  name: r.name,
  stops: r.stops,
  formatId: r.format_id,
  categoryId: r.category_id,
  campaignId: r.campaign_id,
  byItself: r.by_itself,
  version: r.version,
});

export async function listPatterns(db: Queryable, blogId: number): Promise<PatternView[]> {
  return (await db('rollout_patterns').where({ blog_id: blogId }).orderByRaw('lower(name)').select()).map(
    patternOf as never,
  );
}

/** Patterns, the post's own format's first, then its category's. */
export async function patternsFor(db: Queryable, post: WholePostRow): Promise<PatternView[]> {
  const fit = (p: PatternView) =>
    p.formatId !== null && p.formatId === post.format_id
      ? 0
      : p.categoryId !== null && p.categoryId === post.category_id
        ? 1
        : 2;
  return (await listPatterns(db, post.blog_id)).sort((a, b) => fit(a) - fit(b));
}

const changedPattern = (trx: Trx, { blogId }: CurrentPerson, id: number) => ({
  kind: 'pattern' as const,
  id,
  read: async (): Promise<PatternView & FieldValues> => {
    const row = await trx('rollout_patterns').where({ blog_id: blogId, id }).first<PatternRow | undefined>();
    if (!row) throw notFound('That pattern');
    return { ...patternOf(row) };
  },
  name: ({ name }: PatternView) => name,
});

/** What is kept of a pattern, checked; `id` is its own, 0 for one that is to be added. */
async function checkedRow(trx: Trx, person: CurrentPerson, pattern: NewPattern, id: number) {
  const row = {
    name: pattern.name,
    stops: JSON.stringify(pattern.stops),
    format_id: pattern.formatId,
    category_id: pattern.categoryId,
    campaign_id: pattern.campaignId,
    by_itself: pattern.byItself,
  };
  if (
    pattern.byItself &&
    [pattern.formatId, pattern.categoryId, pattern.campaignId].every((id) => id === null)
  )
    throw new ProblemError('invalid', 'By itself it works only for a format, a category or a campaign.', {
      fields: [{ field: 'byItself', sentence: 'Say first for which posts.' }],
    });
  if (
    pattern.campaignId !== null &&
    !(await trx('campaigns').where({ blog_id: person.blogId, id: pattern.campaignId }).first('id'))
  )
    throw new ProblemError('invalid', 'That campaign is not on this blog.');
  for (const outletId of new Set(pattern.stops.map((s) => s.outletId)))
    if (!(await trx('outlets').where({ blog_id: person.blogId, id: outletId }).first('id')))
      throw new ProblemError('invalid', 'One of those outlets is not on this blog.');
  const known = await trx('rollout_patterns')
    .where({ blog_id: person.blogId })
    .whereNot({ id })
    .pluck<string[]>('name');
  if (known.some((name) => name.toLowerCase() === pattern.name.toLowerCase()))
    throw new ProblemError('taken', `There is a pattern “${pattern.name}” already.`, {
      fields: [{ field: 'name', sentence: 'Another pattern has this name.' }],
    });
  return row;
}

/** Locked, so that of two who take a name at once one is refused. */
const lockNames = (trx: Trx, { blogId }: CurrentPerson) =>
  trx('blogs').where({ id: blogId }).forNoKeyUpdate().first('id');

export async function addPattern(
  trx: Trx,
  person: CurrentPerson,
  pattern: NewPattern,
): Promise<PatternView[]> {
  await lockNames(trx, person);
  const [row] = await trx('rollout_patterns')
    .insert({ blog_id: person.blogId, ...(await checkedRow(trx, person, pattern, 0)) })
    .returning<{ id: number }[]>('id');
  await saveAddition({ trx, person }, changedPattern(trx, person, row!.id));
  return listPatterns(trx, person.blogId);
}

/** Changes what is given of a pattern. */
export async function changePattern(
  change: Change,
  id: number,
  changes: Partial<NewPattern>,
): Promise<PatternView[]> {
  const { trx, person } = change;
  await lockNames(trx, person);
  await saveChange(change, changedPattern(trx, person, id), async (before) => {
    const row = await checkedRow(trx, person, { ...before, ...changes }, id);
    await trx('rollout_patterns').where({ id }).update(row);
  });
  return listPatterns(trx, person.blogId);
}

/**
 * Keeps the rollout of a post as a pattern: its kinds, outlets, instructions and times that follow the
 * release.
 */
export async function patternFrom(
  trx: Trx,
  person: CurrentPerson,
  { postId, ...pattern }: PatternFrom,
): Promise<PatternView[]> {
  const rows = await pieceRows(trx, (await mustSend(trx, person, postId)).id);
  const stops = rows
    .filter((r) => r.timing.kind !== 'date' && r.kind !== 'digest')
    .map((r) => ({
      kind: r.kind,
      outletId: r.outlet_id,
      instruction: r.instruction,
      style: r.style,
      shape: r.shape,
      timing: r.timing,
    }));
  if (stops.length === 0)
    throw new ProblemError('invalid', 'None of its pieces has a time that follows the release.');
  return addPattern(trx, person, { ...pattern, stops, campaignId: null, byItself: false });
}

export async function removePattern(change: Change, id: number): Promise<PatternView[]> {
  const { trx, person } = change;
  await saveRemoval(change, changedPattern(trx, person, id), () =>
    trx('rollout_patterns').where({ id }).delete(),
  );
  return listPatterns(trx, person.blogId);
}

/** Makes what a pattern says of a post, to be kept after. */
export async function preparePattern(
  db: Queryable,
  person: CurrentPerson,
  postId: number,
  patternId: number,
): Promise<ReadyPieces> {
  const pattern = await db('rollout_patterns')
    .where({ blog_id: person.blogId, id: patternId })
    .first<{ stops: PatternView['stops'] } | undefined>('stops');
  if (!pattern) throw notFound('That pattern');
  return preparePieces(db, person, postId, { asks: pattern.stops });
}
