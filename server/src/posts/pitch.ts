import { EMPTY_BODY, type PostEdit } from '@keyroster/core';
import type { NewPost } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { notYours, ProblemError } from '../http/problem.js';
import { editPost } from './edit.js';
import { findPost, type WholePostRow } from './store.js';

/** Puts a pitch in the tray. A contributor's pitch is credited to them; the desk may credit anyone, or nobody yet. */
export async function pitch(trx: Trx, person: CurrentPerson, input: NewPost): Promise<WholePostRow> {
  const own = person.role === 'contributor';
  if (own && input.bylineId && input.bylineId !== person.id) throw notYours('Crediting somebody else');
  if (person.role === 'editor' && input.categoryId && !person.categories.includes(input.categoryId))
    throw notYours('Pitching for a category you do not edit');
  return createPost(trx, person, {
    title: input.title,
    thought: input.thought,
    categoryId: input.categoryId ?? null,
    bylineId: own ? person.id : (input.bylineId ?? null),
    dateConstraint: input.dateConstraint,
  });
}

/**
 * A new post, at the stage of a pitch: the blank row that the first edit fills, so that version 1 is written and
 * told of like any other. What a pitch says of itself is its maker's to say, whatever their role.
 */
export async function createPost(
  trx: Trx,
  person: CurrentPerson,
  values: Omit<Extract<PostEdit, { kind: 'set' }>['values'], 'run'> & { title: string },
  source: { copiedFromId: number } | null = null,
  ...more: PostEdit[]
): Promise<WholePostRow> {
  if (values.title.trim() === '') throw new ProblemError('invalid', 'Its title would be empty.');
  const [made] = await trx('posts')
    .insert({
      blog_id: person.blogId,
      version: 0,
      title: ' ',
      body: JSON.stringify(EMPTY_BODY),
      created_by: person.id,
      copied_from_id: source?.copiedFromId ?? null,
    })
    .returning<{ id: number }[]>('id');
  const blank = (await findPost(trx, person.blogId, made!.id))!;
  const maker: CurrentPerson = { ...person, role: 'managing editor' };
  await editPost(trx, blank, maker, { kind: 'set', values }, ...more);
  return (await findPost(trx, person.blogId, made!.id))!;
}
