import type { NewSerial, SerialChanges, SerialView } from '@keyroster/contract';
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
import type { CurrentPerson } from '../http/current-person.js';
import type { Reader, Trx } from '../db/connect.js';
import { databaseNow } from '../db/now.js';
import { ProblemError, mustBeSeen, notFound } from '../http/problem.js';
import { emit } from '../live/live.js';
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

async function partRows(db: Reader, blogId: number): Promise<PartRow[]> {
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
export async function allParts(db: Reader, blogId: number): Promise<{ parts: SerialPart[]; zone: string }> {
  const rows = await partRows(db, blogId);
  const parts = rows.map((row) => ({ postId: row.postId, delay: delayOf(row) }));
  return { parts, zone: await zoneOf(db, blogId) };
}

const zoneOf = async (db: Reader, blogId: number): Promise<string> =>
  (await db('blogs').where({ id: blogId }).first<{ zone: string }>('zone'))!.zone;

/** All serials of a blog; parts in the bin are left out until they are restored. */
export async function listSerials(
  db: Reader,
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

const seeSerial = async (db: Reader, person: CurrentPerson, id: number): Promise<SerialView> =>
  (await listSerials(db, person)).find((s) => s.id === id)!;

/** A decision about who gets what applies at once: all pages are rendered again. */
const told = (trx: Trx, person: CurrentPerson) =>
  emit(trx, { blogId: person.blogId, kind: 'blog', personId: person.id });

export async function addSerial(trx: Trx, person: CurrentPerson, input: NewSerial): Promise<SerialView> {
  const [row] = await trx('serials')
    .insert({ blog_id: person.blogId, ...input })
    .returning<{ id: number }[]>('id');
  return seeSerial(trx, person, row!.id);
}

async function holdSerial(trx: Trx, person: CurrentPerson, id: number): Promise<SerialRow> {
  const row = await trx('serials')
    .where({ blog_id: person.blogId, id })
    .forUpdate()
    .first<SerialRow | undefined>('id', 'version', 'title', 'intro');
  if (!row) throw notFound('That serial');
  return row;
}

/** The parts that a serial has in the bin are kept as they are, behind those that can be seen. */
export async function changeSerial(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  { version, title, intro, parts, accepting }: SerialChanges,
): Promise<SerialView> {
  const serial = await holdSerial(trx, person, id);
  mustBeSeen('this serial', serial.version, version);
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
  await trx('serials')
    .where({ id })
    .update({ title, intro, version: version + 1 });
  await told(trx, person);
  return seeSerial(trx, person, id);
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

export async function removeSerial(trx: Trx, person: CurrentPerson, id: number): Promise<null> {
  await holdSerial(trx, person, id);
  const before = (await partRows(trx, person.blogId)).filter((r) => r.serialId === id);
  await mustDecide(
    trx,
    person,
    before.map((p) => p.postId),
  );
  await trx('serials').where({ id }).delete();
  await told(trx, person);
  return null;
}
