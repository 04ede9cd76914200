import type { BodyNode } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';

/** The text of a post at a version as the desk had it, with what was suggested then. */
export async function deskTextAt(db: Queryable, postId: number, version: number): Promise<BodyNode | null> {
  const row = await db('post_versions')
    .where({ post_id: postId })
    .where('version', '<=', version)
    .whereRaw(`'suggested' = any (changed)`)
    .orderBy('version', 'desc')
    .first<{ suggested: BodyNode | null } | undefined>('suggested');
  return row?.suggested ?? textAt(db, postId, version);
}

/** The text of a post at a version: it is kept where it changed, and holds until the next that has one. */
export async function textAt(db: Queryable, postId: number, version: number): Promise<BodyNode | null> {
  const row = await db('post_versions')
    .where({ post_id: postId })
    .where('version', '<=', version)
    .whereNotNull('body')
    .orderBy('version', 'desc')
    .first<{ body: BodyNode } | undefined>('body');
  return row?.body ?? null;
}
