import type {
  ComparisonView,
  DetailDifference,
  VersionName,
  VersionsQuery,
  VersionsView,
  VersionView,
} from '@keyroster/contract';
import {
  BATCH_FIELDS,
  changedFields,
  differencesOf,
  EMPTY_BODY,
  fieldLabels,
  hasSuggestions,
  isDerived,
  POST_FIELDS,
  type BodyNode,
  type Post,
  type PostField,
  type Stage,
} from '@keyroster/core';
import { personRef } from '../accounts/people.js';
import { batchNames } from '../archive/batch-names.js';
import type { Queryable, Trx } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import { notFound, notYours } from '../http/problem.js';
import { EMPTY_TEXT_COLUMNS } from '../posts/columns.js';
import { postOf, type WholePostRow } from '../posts/store.js';
import { deskTextAt, textAt } from '../posts/text-at.js';

const PAGE = 60;

interface VersionRow {
  version: number;
  at: string;
  person_id: number | null;
  person: string | null;
  changed: PostField[];
  stage: Stage;
  words: number;
  name: string;
  restored: number | null;
  imported: string | null;
  updated: boolean;
}

const versionRows = (db: Queryable, postId: number) =>
  db('post_versions as v')
    .leftJoin('people as p', 'p.id', 'v.person_id')
    .where('v.post_id', postId)
    .select<VersionRow[]>(
      'v.version',
      'v.at',
      'v.person_id',
      'p.name as person',
      'v.changed',
      db.raw(`v.fields->>'stage' as stage`),
      db.raw(`(v.fields->>'words')::int as words`),
      'v.name',
      'v.restored',
      'v.imported',
      db.raw(`'readersVersion' = any (v.changed) and v.fields ->> 'readers_version' is null as updated`),
    );

const viewOf = (row: VersionRow): VersionView => ({
  version: row.version,
  at: row.at,
  by: row.person_id === null ? null : personRef({ id: row.person_id, name: row.person! }),
  changed: row.version === 1 ? [] : fieldLabels(row.changed),
  stage: row.stage,
  moved: row.version > 1 && row.changed.includes('stage'),
  words: row.words ?? 0,
  name: row.name,
  restored: row.restored,
  imported: row.imported,
  updated: row.updated && row.stage === 'published' && !row.changed.includes('stage'),
});

async function versionOf(db: Queryable, postId: number, version: number): Promise<VersionView> {
  const [row] = (await versionRows(db, postId).where('v.version', version)) as VersionRow[];
  if (!row) throw notFound('That version');
  return viewOf(row);
}

/** Versions of a post, the newest first, and what the person who asks has read of it before. */
export async function listVersions(
  db: Queryable,
  person: CurrentPerson,
  post: WholePostRow,
  { before, limit = PAGE }: VersionsQuery,
): Promise<VersionsView> {
  const rows = (await versionRows(db, post.id)
    .modify((q) => before !== undefined && void q.where('v.version', '<', before))
    .orderBy('v.version', 'desc')
    .limit(limit + 1)) as VersionRow[];
  const read = await db('read_versions')
    .where({ post_id: post.id, person_id: person.id })
    .first<{ before_version: number | null } | undefined>('before_version');
  return {
    versions: rows.slice(0, limit).map(viewOf),
    more: rows.length > limit,
    lastRead: read?.before_version ?? null,
    readersSee: post.stage === 'published' ? post.readers_version : null,
  };
}

/** A post as it stood at a version, with its text. */
export async function postAt(db: Queryable, post: WholePostRow, version: number): Promise<Post> {
  const row = await db('post_versions')
    .where({ post_id: post.id, version })
    .first<{ fields: object } | undefined>('fields');
  if (!row) throw notFound('That version');
  const body = (await textAt(db, post.id, version)) ?? EMPTY_BODY;
  const desk = await deskTextAt(db, post.id, version);
  const kept = {
    ...EMPTY_TEXT_COLUMNS,
    coauthor_ids: [],
    tag_ids: [],
    in_search: true,
    mail_at_release: false,
    ...row.fields,
  } as unknown as WholePostRow;
  return postOf({
    ...kept,
    id: post.id,
    version,
    created_by: post.created_by,
    body,
    suggested: desk && hasSuggestions(desk) ? desk : null,
  });
}

/** Two versions side by side: their texts, and in words what differs between their details. */
export async function compareVersions(
  db: Queryable,
  post: WholePostRow,
  from: number,
  to: number,
): Promise<ComparisonView> {
  const [before, after] = [await postAt(db, post, from), await postAt(db, post, to)];
  return {
    from: await versionOf(db, post.id, from),
    to: await versionOf(db, post.id, to),
    current: post.version,
    details: detailsBetween(before, after, await batchNames(db, post.blog_id)),
    before: before.body as BodyNode,
    after: after.body as BodyNode,
  };
}

function detailsBetween(
  before: Post,
  after: Post,
  names: Parameters<typeof differencesOf>[1],
): DetailDifference[] {
  const changed = changedFields(before, after).filter(
    (f) => f !== 'body' && f !== 'suggested' && !isDerived(f),
  );
  const inBatches = changed.filter((f) => (BATCH_FIELDS as readonly PostField[]).includes(f));
  const pick = (post: Post) => Object.fromEntries(inBatches.map((f) => [f, post[f]]));
  const words = differencesOf({ before: pick(before), after: pick(after) } as never, names);
  const others = changed
    .filter((f) => !inBatches.includes(f))
    .map((f) => ({ name: POST_FIELDS[f].label, was: wordsOf(before[f]), becomes: wordsOf(after[f]) }));
  return [...words.map(({ name, was, becomes }) => ({ name, was, becomes })), ...others];
}

/** A value that has no words of its own. */
const wordsOf = (value: unknown): string =>
  typeof value === 'string' || typeof value === 'number'
    ? String(value) || 'empty'
    : value === null || value === undefined || value === false
      ? 'none'
      : 'another';

/** The newest version in which a person changed the text came from a file, or from a writing tool. */
export async function markImported(trx: Trx, postId: number, personId: number, from: string): Promise<void> {
  await trx('post_versions')
    .where({ post_id: postId })
    .where(
      'version',
      trx('post_versions')
        .where({ post_id: postId, person_id: personId })
        .whereRaw(`'body' = any (changed)`)
        .max('version'),
    )
    .update({ imported: from });
}

/** Gives a version a name, or removes it. People who write in a post or decide about it may. */
export async function nameVersion(
  trx: Trx,
  post: WholePostRow,
  mayWrite: boolean,
  { version, name }: VersionName,
): Promise<VersionView> {
  if (!mayWrite) throw notYours('Naming a version of this post');
  const changed = await trx('post_versions').where({ post_id: post.id, version }).update({ name });
  if (changed === 0) throw notFound('That version');
  return versionOf(trx, post.id, version);
}
