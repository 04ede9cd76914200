import {
  CARD_TEXTS,
  SHOWN_OTHERWISE,
  type PostCard,
  type PostDetails,
  type PostView,
} from '@keyroster/contract';
import {
  defaultSlug,
  isLate,
  may,
  openMoves,
  suggestionsIn,
  wallTimeOf,
  type DateConstraint,
  type PostValues,
  type TagLike,
} from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import { personRef } from '../accounts/people.js';
import type { Queryable } from '../db/connect.js';
import { textsOf, valuesOf } from './columns.js';
import { onlyVisible } from './visible.js';
import { factsOf, postOf, type PostRow, type WholePostRow } from './store.js';

export const dateConstraintOf = (
  row: Pick<PostRow, 'not_before' | 'not_after' | 'must_be_on'>,
): DateConstraint => ({
  notBefore: row.not_before,
  notAfter: row.not_after,
  mustBeOn: row.must_be_on,
});

export function cardOf(row: PostRow, nowLocal: string): PostCard {
  return {
    ...textsOf(row, CARD_TEXTS),
    id: row.id,
    version: row.version,
    stage: row.stage,
    slug: row.slug,
    categoryId: row.category_id,
    byline: row.byline_id === null ? null : personRef({ id: row.byline_id, name: row.byline_name ?? '' }),
    runLocal: row.run_local,
    runZone: row.run_zone,
    runAt: row.run_at,
    copyDate: row.copy_date,
    words: row.words,
    dateConstraint: dateConstraintOf(row),
    rating: row.rating,
    late: isLate({ stage: row.stage, runLocal: row.run_local, copyDate: row.copy_date }, nowLocal),
    openNotes: row.open_notes,
    checks: { blocks: row.check_blocks, warns: row.check_warns },
    createdAt: row.created_at,
    updatedAt: row.updated_at,
    releasedAt: row.released_at,
  };
}

type ShownValues = Omit<PostValues, (typeof SHOWN_OTHERWISE)[number] | 'body'>;

/** The values that a view shows as they are; its text comes apart. */
const shownValues = (row: WholePostRow): ShownValues =>
  Object.fromEntries(
    Object.entries(valuesOf({ ...row, body: undefined, suggested: undefined })).filter(
      ([field]) => field !== 'body' && !SHOWN_OTHERWISE.some((other) => other === field),
    ),
  ) as unknown as ShownValues;

/** A post without its text, as this person may see and use it. */
export async function detailsOf(
  db: Queryable,
  row: WholePostRow,
  person: CurrentPerson,
  now: string,
): Promise<PostDetails> {
  const values = shownValues(row);
  const zone =
    row.run_zone ?? (await db('blogs').where({ id: row.blog_id }).first<{ zone: string }>('zone'))!.zone;
  const named = [row.editor_id, row.proofreader_id, ...row.coauthor_ids].filter((id) => id !== null);
  const found =
    named.length === 0
      ? []
      : await db('people').whereIn('id', named).select<{ id: number; name: string }[]>('id', 'name');
  const people = new Map(found.map((p) => [p.id, personRef(p)]));
  const facts = factsOf(row);
  return {
    ...values,
    ...cardOf(row, wallTimeOf(now, zone)),
    // Who may decide about it knows it, to pass it on.
    readingPassword: may(person, 'details', facts) ? values.readingPassword : '',
    proposedSlug: row.slug === null ? await proposedFor(db, row) : null,
    coauthors: row.coauthor_ids.flatMap((id) => people.get(id) ?? []),
    editor: (row.editor_id !== null && people.get(row.editor_id)) || null,
    proofreader: (row.proofreader_id !== null && people.get(row.proofreader_id)) || null,
    tags:
      row.tag_ids.length === 0
        ? []
        : await db('tags').whereIn('id', row.tag_ids).orderBy('name').select<TagLike[]>('id', 'name'),
    copiedFrom:
      row.copied_from_id === null
        ? null
        : ((await onlyVisible(db('posts').where({ id: row.copied_from_id }), person).first<
            { id: number; title: string } | undefined
          >('id', 'title')) ?? null),
    suggestions: row.suggested ? suggestionsIn(row.suggested).length : 0,
    rights: {
      write: may(person, 'write', facts),
      details: may(person, 'details', facts),
      plan: may(person, 'plan', facts),
      note: may(person, 'note', facts),
      update: may(person, 'update', facts),
      suggest: may(person, 'suggest', facts),
      history: may(person, 'history', facts),
    },
    moves: openMoves(person, facts).map(({ to, label }) => ({ to, label })),
  };
}

export async function viewOf(
  db: Queryable,
  row: WholePostRow,
  person: CurrentPerson,
  now: string,
): Promise<PostView> {
  return { ...(await detailsOf(db, row, person, now)), body: row.body };
}

/** The address that clearing would give, but for those that are taken. */
async function proposedFor(db: Queryable, row: WholePostRow): Promise<string> {
  const category = await db('categories')
    .where({ id: row.category_id })
    .first<{ name: string } | undefined>('name');
  return defaultSlug(postOf(row), { ownerOf: () => undefined, categoryName: () => category?.name });
}
