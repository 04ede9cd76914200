import type { PostValues } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { notFound } from '../http/problem.js';
import { COLUMNS } from './columns.js';
import type { WholePostRow } from './store.js';

/** What a deed from the blog changes of a post, as it stood in the version before this one. */
export async function versionBefore(
  db: Queryable,
  post: Pick<WholePostRow, 'id' | 'version'>,
): Promise<Pick<PostValues, 'spotlight' | 'comments'>> {
  const kept = await db('post_versions')
    .where({ post_id: post.id, version: post.version - 1 })
    .first<{ fields: WholePostRow } | undefined>('fields');
  if (!kept) throw notFound('The version before');
  return { spotlight: COLUMNS.spotlight.read(kept.fields), comments: COLUMNS.comments.read(kept.fields) };
}
