import { accessOpenTo, type ReaderRights } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';

/** Parts of serials that come after the first visit. The table holds few rows, so that it is read once a query. */
export const DELAYED_PARTS = `select sp.post_id from serial_parts sp where sp.delayed`;

/** Comes this post to readers some time after their first visit? */
export async function isDelayedPart(db: Queryable, postId: number): Promise<boolean> {
  return (await db('serial_parts').where({ post_id: postId, delayed: true }).first('post_id')) !== undefined;
}

/** Numbers as an array in SQL; nothing else can stand in it. */
const numbers = (ids: readonly number[]): string => `'{${ids.map((id) => Math.trunc(id)).join(',')}}'::int[]`;

/**
 * `mayRead` of core as a condition on the row `alias` of posts: the one predicate that pages, feeds, search, lists,
 * sitemap, pictures and the feeds of outlets share. Without `rights`: who brings nothing.
 */
export function mayReadSql(alias: string, rights: ReaderRights | null = null): string {
  const out = `${alias}.stage = 'published'`;
  if (rights === null)
    return `${out} and ${alias}.access = 'everyone' and ${alias}.id not in (${DELAYED_PARTS})`;
  if (rights.staff) return out;
  const open = accessOpenTo(rights).map((access) => `'${access}'`);
  return (
    `${out} and (${alias}.access in (${open.join(', ')}) or (${alias}.access = 'password' and ` +
    `${alias}.id = any (${numbers(rights.opened)}))) and not ${alias}.id = any (${numbers(rights.withheld)})`
  );
}

/** Who reads which blog. */
export interface Reading {
  id: number;
  /** Null or left out: who brings nothing. */
  rights?: ReaderRights | null;
}

/** Posts as readers see them, those that this reader may read. */
export function readable(db: Queryable, { id, rights }: Reading) {
  return db('readers_posts as posts')
    .where({ 'posts.blog_id': id } as Record<string, unknown>)
    .whereRaw(mayReadSql('posts', rights));
}
