import type { UpdateView } from '@keyroster/contract';
import { applyEdits, HELD_FIELDS, POST_FIELDS, type PostEdit } from '@keyroster/core';
import type { Queryable, Trx } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import { piecesLeftBehind } from '../pieces/left-behind.js';
import { editContextFor } from '../posts/context.js';
import { editPost, type Done } from '../posts/edit.js';
import { postOf, type WholePostRow } from '../posts/store.js';
import { compareVersions } from './versions.js';

/** What readers see of a post and wait for, by its names: other details are the newsroom's own. */
const SEEN: ReadonlySet<string> = new Set(HELD_FIELDS.map((f) => POST_FIELDS[f].label));

const UPDATE: PostEdit = { kind: 'update' };

/** What updating a post puts before its readers, what stands in the way, and which spin-offs fall behind. */
export async function seeUpdate(
  db: Queryable,
  person: CurrentPerson,
  post: WholePostRow,
): Promise<UpdateView> {
  const { readers_version: seen } = post;
  if (seen === null || post.stage !== 'published') return { comparison: null, missing: '', behind: [] };
  const work = { post: postOf(post), edits: [UPDATE] };
  const context = await editContextFor(db, post.blog_id, person, [work], { preview: true });
  const answer = applyEdits(work.post, work.edits, context);
  const comparison = await compareVersions(db, post, seen, post.version);
  return {
    comparison: { ...comparison, details: comparison.details.filter(({ name }) => SEEN.has(name)) },
    missing: answer.ok ? '' : answer.sentence,
    behind: await piecesLeftBehind(db, post),
  };
}

/** Puts what was changed in a post, whose row is held, before its readers. */
export const updatePost = (trx: Trx, row: WholePostRow, person: CurrentPerson): Promise<Done> =>
  editPost(trx, row, person, UPDATE);
