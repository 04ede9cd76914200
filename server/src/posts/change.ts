import { faultOfValue, isLater, may, sayWhen, wallTimeOf, wishFault, type DateWish, type FormatField, type FormatValues, type PostAction } from '@keyroster/core';
import type { PostChanges } from '@keyroster/contract';
import { mustBelong } from '../accounts/people.js';
import type { CurrentPerson } from '../accounts/who.js';
import type { Trx } from '../db/connect.js';
import { ProblemError, notYours } from '../http/problem.js';
import { tagIdsOf } from '../desk/tags.js';
import { planRelease } from '../jobs/queue.js';
import { movePost, zoneOf } from './move.js';
import { runTimeOf, sayRelease } from './run-time.js';
import { databaseNow, factsOf, type WholePostRow } from './store.js';
import { changedSince, writePost, type FieldChanges } from './write-post.js';

/** The permission each field asks for. */
const NEEDS: Record<keyof PostChanges, PostAction> = {
  title: 'write', thought: 'write', excerpt: 'write', leadPicture: 'write', subtitle: 'write', tags: 'write', formatId: 'write', formatValues: 'write', sharePicture: 'write',
  searchTitle: 'write', searchDescription: 'write', sourceUrl: 'write', titleLinks: 'write', place: 'write', comments: 'details', commentCall: 'details', campaign: 'details', spotlight: 'details',
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
  put('subtitle', changes.subtitle);
  put('format_id', changes.formatId);
  put('share_media_id', changes.sharePicture);
  put('search_title', changes.searchTitle);
  put('search_description', changes.searchDescription);
  put('source_url', changes.sourceUrl);
  put('title_links', changes.titleLinks);
  put('place', changes.place);
  put('comments', changes.comments);
  put('comment_call', changes.commentCall);
  put('campaign', changes.campaign);
  if (changes.spotlight !== undefined) Object.assign(fields, { spotlight_from: changes.spotlight?.from ?? null, spotlight_until: changes.spotlight?.until ?? null });
  if (changes.formatId !== undefined || changes.formatValues !== undefined) put('format_values', await valuesFor(trx, row, changes));
  for (const media of [changes.leadPicture?.media, changes.sharePicture]) await mustBeInLibrary(trx, row.blog_id, media);
  if ((fields.second_category_id ?? row.second_category_id) !== null && (fields.second_category_id ?? row.second_category_id) === (fields.category_id === undefined ? row.category_id : fields.category_id)) throw new ProblemError('invalid', 'The second category is the same as the first.');
  if (changes.address !== undefined) await keepOldAddress(trx, row, changes.address);
  const tagIds = changes.tags === undefined ? undefined : await tagIdsOf(trx, row.blog_id, changes.tags);
  if (changes.wish) Object.assign(fields, wishFields(changes.wish));
  if (changes.brief) Object.assign(fields, { brief_angle: changes.brief.angle, brief_length: changes.brief.length, copy_date: changes.brief.copyDate });
  if (changes.leadPicture !== undefined) Object.assign(fields, { lead_media_id: changes.leadPicture?.media ?? null, lead_alt: changes.leadPicture?.alt ?? '' });
  if (row.stage === 'scheduled' || row.stage === 'published') {
    for (const name of ['address', 'byline_id', 'category_id'] as const) {
      if (fields[name] === null) throw new ProblemError('demands', `A ${row.stage} post keeps its ${name === 'byline_id' ? 'byline' : name === 'category_id' ? 'category' : 'web address'}.`);
    }
  }

  if (changes.runAt === null && row.stage === 'scheduled') {
    const version = await writePost(trx, row, { fields, coauthorIds: changes.coauthorIds, tagIds }, person.id);
    const moved = await movePost(trx, { ...row, ...fields, tag_ids: tagIds ?? row.tag_ids, version }, person, { to: 'cleared' });
    return moved.sentence;
  }
  let sentence = 'Stored.';
  if (changes.runAt !== undefined) sentence = await setRunTime(trx, row, fields, changes.runAt);
  await writePost(trx, row, { fields, coauthorIds: changes.coauthorIds, tagIds }, person.id);
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
  access: 'access', subtitle: 'subtitle', tags: 'tags', formatId: 'format', formatValues: 'format’s fields', sharePicture: 'picture for sharing', searchTitle: 'search title', searchDescription: 'search description',
  sourceUrl: 'source address', titleLinks: 'title’s link', place: 'place', comments: 'comments', commentCall: 'invitation to comment', campaign: 'campaign', spotlight: 'spotlight', brief: 'brief', wish: 'wanted dates', rating: 'rating', runAt: 'run time',
};

/** Values that fit the fields of the post's format; those of another format are let go with it. */
async function valuesFor(trx: Trx, row: WholePostRow, changes: PostChanges): Promise<FormatValues> {
  const formatId = changes.formatId === undefined ? row.format_id : changes.formatId;
  if (formatId === null) return {};
  const format = await trx('formats').where({ blog_id: row.blog_id, id: formatId }).first<{ fields: FormatField[]; retired: boolean } | undefined>('fields', 'retired');
  if (!format || (format.retired && formatId !== row.format_id)) throw new ProblemError('invalid', 'That format is not on this blog.');
  const values = changes.formatValues ?? (formatId === row.format_id ? row.format_values : {});
  for (const key of Object.keys(values)) {
    const field = format.fields.find((f) => f.key === key);
    const fault = field ? faultOfValue(field, values[key]) : 'This format has no such field.';
    if (fault) throw new ProblemError('invalid', fault, { fields: [{ field: `formatValues.${key}`, sentence: fault }] });
  }
  return values;
}

async function mustBeInLibrary(trx: Trx, blogId: number, media: number | null | undefined): Promise<void> {
  if (media && !(await trx('media').where({ blog_id: blogId, id: media }).first('id'))) throw new ProblemError('invalid', 'That picture is not in this blog’s library.');
}

/** An address that readers have seen leads to the post for good, so no other post may take it. */
async function keepOldAddress(trx: Trx, row: WholePostRow, address: string | null): Promise<void> {
  if (address !== null) {
    const taken = await trx('old_addresses as o').join('posts as p', 'p.id', 'o.post_id').where({ 'o.blog_id': row.blog_id, 'o.address': address }).whereNot('o.post_id', row.id).first<{ title: string } | undefined>('p.title');
    if (taken) throw new ProblemError('taken', `/${address} leads to “${taken.title}”, which once stood there.`);
    await trx('old_addresses').where({ blog_id: row.blog_id, address, post_id: row.id }).delete();
  }
  if (row.address !== null && row.address !== address && row.released_at !== null) await trx('old_addresses').insert({ blog_id: row.blog_id, address: row.address, post_id: row.id }).onConflict(['blog_id', 'address']).ignore();
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
