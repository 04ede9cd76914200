import { isLater, may, sayWhen, wallTimeOf, wishFault, type DateWish, type PostAction } from '@keyroster/core';
import type { PostChanges } from '@keyroster/contract';
import { mustBelong } from '../accounts/people.js';
import type { CurrentPerson } from '../accounts/who.js';
import type { Trx } from '../db/connect.js';
import { ProblemError, notYours } from '../http/problem.js';
import { planRelease } from '../jobs/queue.js';
import { movePost, zoneOf } from './move.js';
import { runTimeOf, sayRelease } from './run-time.js';
import { databaseNow, factsOf, type WholePostRow } from './store.js';
import { changedSince, writePost, type FieldChanges } from './write-post.js';

/** The permission each field asks for. */
const NEEDS: Record<keyof PostChanges, PostAction> = {
  title: 'write', thought: 'write', excerpt: 'write', leadPicture: 'write',
  address: 'details', categoryId: 'details', secondCategoryId: 'details', bylineId: 'details', coauthorIds: 'details',
  editorId: 'details', proofreaderId: 'details', access: 'details', brief: 'details', wish: 'details', rating: 'details', runAt: 'plan',
};

/** Throws 412 with what changed since, when the version that is being changed is not the one that stands. */
export async function mustBeCurrent(trx: Trx, row: WholePostRow, version: number | null): Promise<void> {
  if (version === null || version === row.version) return;
  const { changed, by } = await changedSince(trx, row.id, version);
  throw new ProblemError('version-conflict', `${by ?? 'Somebody'} changed this post in the meantime. Your change was not stored; nothing of theirs was lost.`,
    { version: row.version, changed, ...(by ? { changedBy: by } : {}) });
}

/** Changes fields of a post, never its text or stage. The caller holds the row's lock. Returns what it did, in words. */
export async function changePost(trx: Trx, row: WholePostRow, person: CurrentPerson, changes: PostChanges): Promise<string> {
  const facts = factsOf(row);
  for (const field of Object.keys(changes) as (keyof PostChanges)[]) {
    if (!may(person, NEEDS[field], facts)) throw notYours(`Changing the ${FIELD_NAMES[field]} of this post`);
  }
  if (person.role === 'editor' && changes.categoryId !== undefined && (changes.categoryId === null || !person.categories.includes(changes.categoryId))) {
    throw notYours('Moving a post to a category you do not edit');
  }
  for (const id of [changes.bylineId, changes.editorId, changes.proofreaderId, ...(changes.coauthorIds ?? [])]) await mustBelong(trx, row.blog_id, id);

  const fields: FieldChanges = {};
  const put = <K extends keyof FieldChanges>(name: K, value: FieldChanges[K] | undefined) => { if (value !== undefined) fields[name] = value; };
  put('title', changes.title);
  put('thought', changes.thought);
  put('excerpt', changes.excerpt);
  put('address', changes.address);
  put('category_id', changes.categoryId);
  put('second_category_id', changes.secondCategoryId);
  put('byline_id', changes.bylineId);
  put('editor_id', changes.editorId);
  put('proofreader_id', changes.proofreaderId);
  put('access', changes.access);
  put('rating', changes.rating);
  if (changes.wish) Object.assign(fields, wishFields(changes.wish));
  if (changes.brief) Object.assign(fields, { brief_angle: changes.brief.angle, brief_length: changes.brief.length, copy_date: changes.brief.copyDate });
  if (changes.leadPicture !== undefined) Object.assign(fields, { lead_media_id: changes.leadPicture?.media ?? null, lead_alt: changes.leadPicture?.alt ?? '' });
  if (row.stage === 'scheduled' || row.stage === 'published') {
    for (const name of ['address', 'byline_id', 'category_id'] as const) {
      if (fields[name] === null) throw new ProblemError('demands', `A ${row.stage} post keeps its ${name === 'byline_id' ? 'byline' : name === 'category_id' ? 'category' : 'web address'}.`);
    }
  }

  if (changes.runAt === null && row.stage === 'scheduled') {
    await writePost(trx, row, { fields, coauthorIds: changes.coauthorIds }, person.id);
    const moved = await movePost(trx, { ...row, ...fields, version: row.version + (hasChanges(row, fields, changes.coauthorIds) ? 1 : 0) }, person, { to: 'cleared' });
    return moved.sentence;
  }
  let sentence = 'Stored.';
  if (changes.runAt !== undefined) sentence = await setRunTime(trx, row, fields, changes.runAt);
  await writePost(trx, row, { fields, coauthorIds: changes.coauthorIds }, person.id);
  return sentence;
}

/** The fields of a wish that can be kept; throws a sentence when it leaves no day. */
export function wishFields(wish: DateWish): FieldChanges {
  const fault = wishFault(wish);
  if (fault) throw new ProblemError('invalid', fault, { fields: [{ field: 'wish', sentence: fault }] });
  return { not_before: wish.notBefore, not_after: wish.notAfter, must_be_on: wish.mustBeOn };
}

const FIELD_NAMES: Record<keyof PostChanges, string> = {
  title: 'title', thought: 'thought', excerpt: 'excerpt', leadPicture: 'lead picture', address: 'web address', categoryId: 'category',
  secondCategoryId: 'second category', bylineId: 'byline', coauthorIds: 'co-authors', editorId: 'editor', proofreaderId: 'proofreader',
  access: 'access', brief: 'brief', wish: 'wanted dates', rating: 'rating', runAt: 'run time',
};

function hasChanges(row: WholePostRow, fields: FieldChanges, coauthors: readonly number[] | undefined): boolean {
  return (Object.keys(fields) as (keyof FieldChanges)[]).some((f) => fields[f] !== row[f]) || (coauthors !== undefined && [...coauthors].sort((a, b) => a - b).join() !== row.coauthor_ids.join());
}

async function setRunTime(trx: Trx, row: WholePostRow, fields: FieldChanges, runAt: string | null): Promise<string> {
  if (runAt === null) {
    if (row.stage === 'published') throw new ProblemError('demands', 'A published post keeps its run time.');
    Object.assign(fields, { run_local: null, run_zone: null, run_at: null });
    return 'Its run time was taken away.';
  }
  if (row.stage === 'pitch') throw new ProblemError('no-such-move', 'A pitch has no date. Commission it, and it gets one.');
  const run = runTimeOf(runAt, await zoneOf(trx, row.blog_id));
  const now = await databaseNow(trx);
  const nowLocal = wallTimeOf(now, run.run_zone);
  Object.assign(fields, run);
  if (row.stage === 'published') {
    if (isLater(run.run_at, now)) throw new ProblemError('bad-time', 'A published post can be dated back, not forward. Withdraw it first.');
    return `Dated ${sayWhen(run.run_local, nowLocal.slice(0, 10))}.`;
  }
  if (row.stage === 'scheduled') {
    fields.scheduled_at = now;
    await planRelease(trx, row.id, run.run_at);
    return sayRelease(run, nowLocal, isLater(now, run.run_at));
  }
  return `Planned for ${sayWhen(run.run_local, nowLocal.slice(0, 10))}.`;
}
