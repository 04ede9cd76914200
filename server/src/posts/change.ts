import { formatList, fieldLabels, type PostEdit, type PostField, type SetValues } from '@keyroster/core';
import type { PostChanges } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { editPost, type Done } from './edit.js';
import { runTimeOf } from './run-time.js';
import type { WholePostRow } from './store.js';
import { tagIdsOf } from './tag-ids.js';

/** Changes fields of a post, never its text or stage. The caller holds the row's lock. */
export async function changePost(
  trx: Trx,
  row: WholePostRow,
  person: CurrentPerson,
  changes: PostChanges,
): Promise<Done> {
  return editPost(trx, row, person, await editOf(trx, row.blog_id, changes));
}

/** The edit that changes from outside mean: times in the blog's zone, tags by their names. */
export async function editOf(
  trx: Trx,
  blogId: number,
  { tags, runAt, ...fields }: PostChanges,
): Promise<PostEdit> {
  const values: SetValues = fields;
  if (tags !== undefined) values.tagIds = await tagIdsOf(trx, blogId, tags);
  if (runAt !== undefined) values.run = runAt === null ? null : runTimeOf(runAt, await zoneOf(trx, blogId));
  return { kind: 'set', values };
}

export async function zoneOf(db: Queryable, blogId: number): Promise<string> {
  return (await db('blogs').where({ id: blogId }).first<{ zone: string }>('zone'))!.zone;
}

/** Throws 412 with what changed since, when the version that is being changed is not the one that stands. */
export async function mustBeCurrent(trx: Trx, row: WholePostRow, version: number | null): Promise<void> {
  if (version === null || version === row.version) return;
  const { changed, by } = await changedSince(trx, row.id, version);
  const labels = fieldLabels(changed);
  throw new ProblemError(
    'version-conflict',
    `${by ?? 'Somebody'} changed ${labels.length === 0 ? 'this post' : `the ${formatList(labels)} of this post`} ` +
      'in the meantime. Your change was not stored; nothing of theirs was lost.',
    { version: row.version, changed, ...(by ? { changedBy: by } : {}) },
  );
}

/** Which fields changed after a version, and who changed them last; for the person whose change came second. */
async function changedSince(
  trx: Trx,
  postId: number,
  version: number,
): Promise<{ changed: PostField[]; by: string | null }> {
  const rows = await trx('post_versions as v')
    .leftJoin('people as p', 'p.id', 'v.person_id')
    .where('v.post_id', postId)
    .where('v.version', '>', version)
    .orderBy('v.version')
    .select<{ changed: PostField[]; name: string | null }[]>('v.changed', 'p.name');
  return { changed: [...new Set(rows.flatMap((r) => r.changed))], by: rows.at(-1)?.name ?? null };
}
