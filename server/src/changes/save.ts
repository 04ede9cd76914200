import { isDeepStrictEqual as equal } from 'node:util';
import { CHANGE_FIELDS, type ChangeKind, type FieldValues, type Versioned } from '@keyroster/contract';
import type { Trx } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import { ProblemError, notFound } from '../http/problem.js';
import { emit } from '../live/live.js';

type Told = Parameters<typeof emit>[1];

/** Where each kind is kept, by what of the row its id is, what it is called, and what announces a change. */
const KINDS: Record<
  ChangeKind,
  { table: string; key: 'id' | 'person_id'; what: string; tells: Told['kind'] }
> = {
  slot: { table: 'slots', key: 'id', what: 'standing slot', tells: 'blog' },
  absence: { table: 'absences', key: 'id', what: 'absence', tells: 'people' },
  tag: { table: 'tags', key: 'id', what: 'tag', tells: 'blog' },
  category: { table: 'categories', key: 'id', what: 'category', tells: 'blog' },
  person: { table: 'memberships', key: 'person_id', what: 'person', tells: 'people' },
  profile: { table: 'memberships', key: 'person_id', what: 'person', tells: 'people' },
  picture: { table: 'media', key: 'id', what: 'picture', tells: 'media' },
  subscriber: { table: 'subscribers', key: 'id', what: 'subscriber', tells: 'letter' },
  template: { table: 'templates', key: 'id', what: 'template', tells: 'blog' },
  outlet: { table: 'outlets', key: 'id', what: 'outlet', tells: 'outlet' },
  format: { table: 'formats', key: 'id', what: 'format', tells: 'blog' },
  checklist: { table: 'checklists', key: 'id', what: 'checklist', tells: 'blog' },
  chore: { table: 'chores', key: 'id', what: 'chore', tells: 'note' },
  campaign: { table: 'campaigns', key: 'id', what: 'campaign', tells: 'outlet' },
  pattern: { table: 'rollout_patterns', key: 'id', what: 'pattern', tells: 'outlet' },
  serial: { table: 'serials', key: 'id', what: 'serial', tells: 'blog' },
  special: { table: 'specials', key: 'id', what: 'special', tells: 'special' },
  letter: { table: 'letters', key: 'id', what: 'letter', tells: 'letter' },
  blog: { table: 'blogs', key: 'id', what: 'blog', tells: 'blog' },
  site: { table: 'blogs', key: 'id', what: 'blog', tells: 'blog' },
};

/** Who changes something, and which version of it they saw; null takes it as it is. */
export interface Change {
  trx: Trx;
  person: CurrentPerson;
  ifMatch: number | null;
}

/** Something that is changed: how its present values are read, and what it is called with them. */
export interface Changed<V extends FieldValues> {
  kind: ChangeKind;
  id: number;
  /** Also says whether it is there, and whether this person may change it, by throwing. */
  read: () => Promise<V>;
  name: (values: V) => string;
  /** Told with the change, where only those who see a post are to hear of it. */
  postId?: number;
}

/** The row of something of a blog's, or the blog's own. */
const rowOf = (trx: Trx, { blogId }: Pick<CurrentPerson, 'blogId'>, kind: ChangeKind, id: number) => {
  const { table, key } = KINDS[kind];
  return trx(table).where(table === 'blogs' ? { id: blogId } : { blog_id: blogId, [key]: id });
};

/** A person's account and their page are two kinds of change of one row, and so are a blog and its pages. */
const kindsOf = (table: string): string[] =>
  Object.entries(KINDS).flatMap(([kind, of]) => (of.table === table ? [kind] : []));

const fieldsOf = (kind: ChangeKind, values: FieldValues): FieldValues =>
  Object.fromEntries(CHANGE_FIELDS[kind].flatMap((f) => (f in values ? [[f, values[f] ?? null]] : [])));

/** The fields that differ, as they are in the first. */
const differing = (of: FieldValues, from: FieldValues): FieldValues =>
  Object.fromEntries(Object.entries(of).filter(([field, value]) => !equal(value, from[field])));

/**
 * Locks the row until the transaction ends and compares its version with the one that was seen. What only refers to the
 * row is not kept waiting. `not` says what is not done.
 */
export async function lockSeen<V extends FieldValues>(
  { trx, person, ifMatch }: Change,
  { kind, id, read }: Changed<V>,
  not: string,
): Promise<{ values: V; version: number }> {
  const { table, what } = KINDS[kind];
  const row = await rowOf(trx, person, kind, id).forNoKeyUpdate().first<Versioned | undefined>('version');
  if (!row) throw notFound(`That ${what}`);
  const values = await read();
  if (ifMatch === null || ifMatch === row.version) return { values, version: row.version };
  // Named only where the log knows who made it the present version: jobs and batches raise it, too.
  const last = await trx('changes as c')
    .join('people as p', 'p.id', 'c.person_id')
    .where({ 'c.blog_id': person.blogId, 'c.of_id': id, 'c.version': row.version })
    .whereIn('c.kind', kindsOf(table))
    .orderBy('c.id', 'desc')
    .first<{ name: string } | undefined>('p.name');
  throw new ProblemError(
    'version-conflict',
    `${last?.name ?? 'Somebody else'} changed this ${what} in the meantime, so ${not}. Look at it again first.`,
    {
      version: row.version,
      current: fieldsOf(kind, values),
      ...(last ? { changedBy: last.name } : {}),
    },
  );
}

async function versionOf(trx: Trx, person: CurrentPerson, kind: ChangeKind, id: number): Promise<number> {
  return (await rowOf(trx, person, kind, id).first<Versioned>('version')).version;
}

async function record(
  { trx, person }: Change,
  { kind, id, postId }: Pick<Changed<never>, 'kind' | 'id' | 'postId'>,
  name: string,
  was: FieldValues | null,
  became: FieldValues | null,
): Promise<void> {
  await trx('changes').insert({
    blog_id: person.blogId,
    kind,
    of_id: id,
    name,
    version: became === null ? null : await versionOf(trx, person, kind, id),
    person_id: person.id,
    was: was === null ? null : JSON.stringify(was),
    became: became === null ? null : JSON.stringify(became),
  });
  const { tells } = KINDS[kind];
  await emit(trx, {
    blogId: person.blogId,
    kind: tells,
    personId: person.id,
    ...(postId === undefined ? {} : { postId }),
  });
}

/**
 * Changes something that others may change as well: refused with its present values where the version that was seen is
 * no longer the present one (RFC 9110, 13.1.1), else written, counted as a new version, written down and announced.
 */
export async function saveChange<V extends FieldValues>(
  change: Change,
  changed: Changed<V>,
  write: (before: V) => Promise<unknown>,
): Promise<V> {
  const { values: before, version } = await lockSeen(change, changed, 'yours is not saved');
  await write(before);
  const { kind, id, read, name } = changed;
  const after = await read();
  const [was, became] = [fieldsOf(kind, before), fieldsOf(kind, after)];
  if (equal(was, became)) return after;
  // Not everything of it stands in its own row, so that the row does not always count by itself.
  await rowOf(change.trx, change.person, kind, id)
    .where({ version })
    .update({ version: change.trx.raw('version + 1') });
  await record(change, changed, name(after), differing(was, became), differing(became, was));
  return read();
}

/** Removes something in the same way. What is `forgotten` leaves nothing of itself in the log. */
export async function saveRemoval<V extends FieldValues>(
  change: Change,
  changed: Changed<V>,
  remove: (before: V) => Promise<unknown>,
  { forgotten = false } = {},
): Promise<void> {
  const { values: before } = await lockSeen(change, changed, 'it is still here');
  await remove(before);
  const { kind, id, name } = changed;
  if (forgotten)
    await change.trx('changes').where({ blog_id: change.person.blogId, kind, of_id: id }).delete();
  await record(change, changed, forgotten ? '' : name(before), forgotten ? {} : fieldsOf(kind, before), null);
}

/** Writes down and announces something that was added. */
export async function saveAddition<V extends FieldValues>(
  change: Omit<Change, 'ifMatch'>,
  { read, name, ...added }: Changed<V>,
): Promise<V> {
  const values = await read();
  await record({ ...change, ifMatch: null }, added, name(values), null, fieldsOf(added.kind, values));
  return values;
}
