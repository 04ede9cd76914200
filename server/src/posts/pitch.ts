import { EMPTY_BODY } from '@keyroster/core';
import type { NewPost } from '@keyroster/contract';
import { mustBelong } from '../accounts/people.js';
import type { CurrentPerson } from '../accounts/who.js';
import type { Trx } from '../db/connect.js';
import { ProblemError, notYours } from '../http/problem.js';
import { tell } from '../live/live.js';
import { wishFields } from './change.js';
import { findPost, type WholePostRow } from './store.js';
import { keepVersion } from './write-post.js';

/** Puts a pitch in the tray. A contributor's pitch is credited to them; the desk may credit anyone, or nobody yet. */
export async function pitch(trx: Trx, person: CurrentPerson, input: NewPost): Promise<WholePostRow> {
  const own = person.role === 'contributor';
  const bylineId = own ? person.id : (input.bylineId ?? null);
  if (own && input.bylineId && input.bylineId !== person.id) throw notYours('Crediting somebody else');
  if (person.role === 'editor' && input.categoryId && !person.categories.includes(input.categoryId)) {
    throw notYours('Pitching for a category you do not edit');
  }
  await mustBelong(trx, person.blogId, bylineId);
  if (input.categoryId && !(await trx('categories').where({ blog_id: person.blogId, id: input.categoryId }).first('id'))) {
    throw new ProblemError('invalid', 'That category is not on this blog.');
  }
  const [row] = await trx('posts').insert({
    blog_id: person.blogId, title: input.title, thought: input.thought ?? '', category_id: input.categoryId ?? null, byline_id: bylineId,
    body: JSON.stringify(EMPTY_BODY), created_by: person.id, ...(input.wish ? wishFields(input.wish) : {}),
  }).returning<{ id: number }[]>('id');
  const post = (await findPost(trx, person.blogId, row!.id))!;
  await keepVersion(trx, post, 1, ['title'], [], EMPTY_BODY, person.id);
  await tell(trx, { blogId: person.blogId, kind: 'post', postId: post.id, version: 1, personId: person.id });
  return post;
}
