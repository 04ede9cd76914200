import { fileIds, pictureIds, type BodyNode } from '@keyroster/core';
import type { Trx } from '../db/connect.js';
import { planMeasuring } from '../jobs/queue.js';
import { tell } from '../live/live.js';
import { followReleases } from '../outlets/follow.js';
import { POST_FIELDS, type WholePostRow } from './store.js';

export type FieldChanges = Partial<Pick<WholePostRow, (typeof POST_FIELDS)[number]>>;
export interface PostWrite {
  fields?: FieldChanges;
  coauthorIds?: readonly number[];
  tagIds?: readonly number[];
  body?: { json: BodyNode; text: string; words: number };
}

/**
 * The only way a row of `posts` changes: counts the version up, keeps the new version, and tells the others.
 * The caller holds the row's lock and has decided that the change is allowed. Nothing changed, nothing written.
 * Returns the version that stands afterwards.
 */
export async function writePost(trx: Trx, before: WholePostRow, write: PostWrite, personId: number | null): Promise<number> {
  const fields: FieldChanges = { ...write.fields, ...(write.body ? { words: write.body.words } : {}) };
  const changed = (Object.keys(fields) as (keyof FieldChanges)[]).filter((name) => !same(fields[name], before[name])) as string[];
  if (write.body) changed.push('body');
  const coauthors = write.coauthorIds ? [...new Set(write.coauthorIds)].sort((a, b) => a - b) : null;
  if (coauthors && coauthors.join() !== before.coauthor_ids.join()) changed.push('coauthors');
  const tags = write.tagIds ? [...new Set(write.tagIds)].sort((a, b) => a - b) : null;
  if (tags && tags.join() !== before.tag_ids.join()) changed.push('tags');
  if (changed.length === 0) return before.version;

  const version = before.version + 1;
  if (changed.includes('coauthors')) {
    await trx('post_coauthors').where({ post_id: before.id }).delete();
    if (coauthors!.length > 0) await trx('post_coauthors').insert(coauthors!.map((person_id) => ({ blog_id: before.blog_id, post_id: before.id, person_id })));
  }
  if (changed.includes('tags')) {
    await trx('post_tags').where({ post_id: before.id }).delete();
    if (tags!.length > 0) await trx('post_tags').insert(tags!.map((tag_id) => ({ blog_id: before.blog_id, post_id: before.id, tag_id })));
  }
  await trx('posts').where({ id: before.id }).update({
    ...fields,
    ...(fields.format_values ? { format_values: JSON.stringify(fields.format_values) } : {}),
    ...(write.body ? { body: JSON.stringify(write.body.json), body_text: write.body.text } : {}),
    version,
    updated_at: trx.raw('clock_timestamp()'),
  });
  const after = { ...before, ...fields };
  await keepVersion(trx, after, version, changed, coauthors ?? before.coauthor_ids, write.body?.json ?? null, personId, tags ?? before.tag_ids);
  if (write.body || fields.lead_media_id !== undefined || fields.share_media_id !== undefined) await keepUses(trx, { ...after, body: write.body?.json ?? before.body });
  if (changed.some((name) => !UNMEASURED.has(name))) await planMeasuring(trx, before.id);
  if (changed.includes('stage') || changed.includes('run_local')) await followReleases(trx, [before.id]);
  // What readers see has changed too when it was or is published: their pages are made anew.
  const forReaders = before.stage === 'published' || after.stage === 'published';
  await tell(trx, { blogId: before.blog_id, kind: 'post', postId: before.id, version, personId }, ...(forReaders ? [{ blogId: before.blog_id, kind: 'release', postId: before.id } as const] : []));
  return version;
}

export async function keepVersion(
  trx: Trx, row: Pick<WholePostRow, 'id' | 'blog_id'> & FieldChanges, version: number, changed: string[], coauthors: readonly number[], body: BodyNode | null, personId: number | null,
  tags: readonly number[] = [],
): Promise<void> {
  const fields = Object.fromEntries(POST_FIELDS.map((name) => [name, row[name] ?? null]));
  await trx('post_versions').insert({
    blog_id: row.blog_id, post_id: row.id, version, person_id: personId, changed,
    fields: JSON.stringify({ ...fields, coauthor_ids: coauthors, tag_ids: tags }), body: body && JSON.stringify(body),
  });
}

/** Fields that no check looks at; a release touches nothing else, and a rush of them should not measure a thousand texts. */
const UNMEASURED = new Set(['stage', 'stage_since', 'run_local', 'run_zone', 'run_at', 'scheduled_at', 'released_at', 'rating', 'thought', 'byline_id', 'coauthors', 'editor_id', 'proofreader_id', 'copy_date', 'not_before', 'not_after', 'must_be_on', 'place', 'campaign', 'comments', 'comment_call', 'access', 'spotlight_from', 'spotlight_until']);

/** The same value, whatever order the keys of an object come in. */
function same(a: unknown, b: unknown): boolean {
  if (a === b || typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b;
  const sorted = (o: object) => JSON.stringify(Object.entries(o).sort(([x], [y]) => (x < y ? -1 : 1)));
  return sorted(a) === sorted(b);
}

/** Keeps which pictures and files a post uses, and how. */
export async function keepUses(trx: Trx, post: Pick<WholePostRow, 'id' | 'blog_id' | 'lead_media_id' | 'share_media_id' | 'body'>): Promise<void> {
  const uses = [
    ...pictureIds(post.body).map((media_id) => ({ media_id, how: 'text' })),
    ...(post.lead_media_id === null ? [] : [{ media_id: post.lead_media_id, how: 'lead' }]), ...(post.share_media_id === null ? [] : [{ media_id: post.share_media_id, how: 'share' }]),
  ].map((use) => ({ ...use, blog_id: post.blog_id, post_id: post.id }));
  await trx('media_uses').where({ post_id: post.id }).delete();
  if (uses.length > 0) await trx('media_uses').insert(uses);
  const files = fileIds(post.body).map((file_id) => ({ file_id, blog_id: post.blog_id, post_id: post.id }));
  await trx('file_uses').where({ post_id: post.id }).delete();
  if (files.length > 0) await trx('file_uses').insert(files);
}

/** Which fields changed after a version, and who changed them last; for the person whose change came second. */
export async function changedSince(trx: Trx, postId: number, version: number): Promise<{ changed: string[]; by: string | null }> {
  const rows = await trx('post_versions as v').leftJoin('people as p', 'p.id', 'v.person_id').where('v.post_id', postId).where('v.version', '>', version)
    .orderBy('v.version').select<{ changed: string[]; name: string | null }[]>('v.changed', 'p.name');
  return { changed: [...new Set(rows.flatMap((r) => r.changed))], by: rows.at(-1)?.name ?? null };
}
