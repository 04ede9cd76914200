import type { FieldValues, NewSerial, SerialChanges, SerialView } from '@keyroster/contract';
import {
  may,
  orderWarnings,
  readersOfParts,
  takenAway,
  takenSentence,
  type Delay,
  type SerialPart,
  type Stage,
} from '@keyroster/core';
import { saveAddition, saveChange, saveRemoval, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { databaseNow } from '../db/now.js';
import { ProblemError, notFound } from '../http/problem.js';
import { factsOf, findPost } from '../posts/store.js';
import { visitsUntil } from '../access/visits.js';

interface SerialRow {
  id: number;
  version: number;
  title: string;
  intro: string;
}
interface PartRow extends Delay {
  serialId: number;
  postId: number;
  title: string;
  stage: Stage;
}

async function partRows(db: Queryable, blogId: number): Promise<PartRow[]> {
  return db('serial_parts as s')
    .join('posts as p', 'p.id', 's.post_id')
    .where('p.blog_id', blogId)
    .orderBy('s.position')
    .select<PartRow[]>(
      's.serial_id as serialId',
      'p.id as postId',
      'p.title',
      'p.stage',
      's.days',
      's.hours',
      's.minutes',
    );
}

/** Every part of every serial of a blog, and the zone that their days are of. */
export async function allParts(
  db: Queryable,
  blogId: number,
): Promise<{ parts: SerialPart[]; zone: string }> {
  const rows = await partRows(db, blogId);
  const parts = rows.map((row) => ({ postId: row.postId, delay: delayOf(row) }));
  return { parts, zone: await zoneOf(db, blogId) };
}

const zoneOf = async (db: Queryable, blogId: number): Promise<string> =>
  (await db('blogs').where({ id: blogId }).first<{ zone: string }>('zone'))!.zone;

/** All serials of a blog; parts in the bin are left out until they are restored. */
export async function listSerials(
  db: Queryable,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
): Promise<SerialView[]> {
  const serials = await db('serials')
    .where({ blog_id: blogId })
    .orderBy('title')
    .orderBy('id')
    .select<SerialRow[]>('id', 'version', 'title', 'intro');
  const rows = await partRows(db, blogId);
  const { parts: all, zone } = await allParts(db, blogId);
  const now = await databaseNow(db);
  const until = await visitsUntil(db, blogId, all, zone, now);
  return serials.map((serial) => {
    const parts = rows
      .filter((row) => row.serialId === serial.id)
      .map((row) => ({ postId: row.postId, title: row.title, stage: row.stage, delay: delayOf(row) }));
    const out = parts.filter((p) => p.stage === 'published');
    const counts = new Map(readersOfParts(out, zone, now, until).map((c) => [c.postId, c]));
    return {
      ...serial,
      parts: parts.map((part) => ({
        ...part,
        have: counts.get(part.postId)?.have ?? 0,
        newest: counts.get(part.postId)?.newest ?? 0,
      })),
      visits: until(now),
      warnings: orderWarnings(parts),
    };
  });
}

const seeSerial = async (db: Queryable, person: CurrentPerson, id: number): Promise<SerialView> =>
  (await listSerials(db, person)).find((s) => s.id === id)!;

export async function addSerial(trx: Trx, person: CurrentPerson, input: NewSerial): Promise<SerialView> {
  const [row] = await trx('serials')
    .insert({ blog_id: person.blogId, ...input })
    .returning<{ id: number }[]>('id');
  await saveAddition({ trx, person }, changedSerial(trx, person, row!.id));
  return seeSerial(trx, person, row!.id);
}

type SerialValues = Omit<SerialChanges, 'accepting'>;

const changedSerial = (trx: Trx, { blogId }: CurrentPerson, id: number) => ({
  kind: 'serial' as const,
  id,
  read: async (): Promise<SerialValues & FieldValues> => {
    const row = await trx('serials')
      .where({ blog_id: blogId, id })
      .first<NewSerial | undefined>('title', 'intro');
    if (!row) throw notFound('That serial');
    const parts = (await partRows(trx, blogId)).filter((part) => part.serialId === id);
    return { ...row, parts: parts.map((part) => ({ postId: part.postId, delay: delayOf(part) })) };
  },
  name: ({ title }: SerialValues) => title,
});

/**
 * Changes what is given of a serial. The parts that it has in the bin are kept as they are, behind those that can be
 * seen. A decision about who gets what applies at once: all pages are rendered again.
 */
export async function changeSerial(
  change: Change,
  id: number,
  { accepting, ...changes }: Partial<SerialValues> & Pick<SerialChanges, 'accepting'>,
): Promise<SerialView> {
  const { trx, person } = change;
  await saveChange(change, changedSerial(trx, person, id), (before) =>
    writeSerial(change, id, { ...before, ...changes }, accepting),
  );
  return seeSerial(trx, person, id);
}

async function writeSerial(
  { trx, person }: Change,
  id: number,
  { title, intro, parts }: SerialValues,
  accepting: boolean,
): Promise<void> {
  const rows = await partRows(trx, person.blogId);
  const before = rows.filter((r) => r.serialId === id);
  await mustDecide(trx, person, changedPosts(before, parts));
  const elsewhere = rows.find((r) => r.serialId !== id && parts.some((p) => p.postId === r.postId));
  if (elsewhere) throw new ProblemError('taken', `“${elsewhere.title}” is a part of another serial already.`);
  if (!accepting) await mustTakeNothing(trx, person.blogId, before, parts);
  const kept = before.map((row) => row.postId);
  await trx('serial_parts').where({ serial_id: id }).whereIn('post_id', kept).delete();
  if (parts.length > 0)
    await trx('serial_parts').insert(
      parts.map(({ postId, delay }, position) => ({ serial_id: id, post_id: postId, position, ...delay })),
    );
  await trx('serials').where({ id }).update({ title, intro });
}

const delayOf = ({ days, hours, minutes }: Delay): Delay => ({ days, hours, minutes });

function changedPosts(before: readonly PartRow[], after: readonly SerialPart[]): number[] {
  const same = (a: Delay, b: Delay) => a.days === b.days && a.hours === b.hours && a.minutes === b.minutes;
  const added = after.filter((p) => !before.some((b) => b.postId === p.postId && same(b, p.delay)));
  const gone = before.filter((b) => !after.some((p) => p.postId === b.postId));
  return [...added, ...gone].map((p) => p.postId);
}

/** When a post comes to readers is for who may decide about the post. */
async function mustDecide(trx: Trx, person: CurrentPerson, postIds: readonly number[]): Promise<void> {
  for (const postId of postIds) {
    const post = await findPost(trx, person.blogId, postId);
    if (!post || !may(person, 'see', factsOf(post))) throw notFound('One of those posts');
    if (!may(person, 'details', factsOf(post)))
      throw new ProblemError('not-yours', `“${post.title}” is not yours to decide about.`);
  }
}

async function mustTakeNothing(
  trx: Trx,
  blogId: number,
  before: readonly PartRow[],
  parts: readonly SerialPart[],
): Promise<void> {
  const zone = await zoneOf(trx, blogId);
  const now = await databaseNow(trx);
  const was = before.map((row) => ({ postId: row.postId, delay: delayOf(row) }));
  const until = await visitsUntil(trx, blogId, [...was, ...parts], zone, now);
  const posts = await trx('posts')
    .whereIn(
      'id',
      parts.map((p) => p.postId),
    )
    .select<{ id: number; title: string; stage: Stage }[]>('id', 'title', 'stage');
  const isOut = (id: number) => posts.some((p) => p.id === id && p.stage === 'published');
  const taken = takenAway(was, parts, isOut, zone, now, until);
  if (taken.length === 0) return;
  const sentences = taken.map((t) => takenSentence(t, posts.find((p) => p.id === t.postId)!.title));
  throw new ProblemError('takes-away', sentences.join(' '), {
    fields: sentences.map((sentence) => ({ field: 'parts', sentence })),
  });
}

export async function removeSerial(change: Change, id: number): Promise<null> {
  const { trx, person } = change;
  await saveRemoval(change, changedSerial(trx, person, id), async ({ parts }) => {
    await mustDecide(
      trx,
      person,
      parts.map((p) => p.postId),
    );
    await trx('serials').where({ id }).delete();
  });
  return null;
}
