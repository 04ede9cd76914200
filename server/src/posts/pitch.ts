import { EMPTY_BODY, type PostEdit } from '@keyroster/core';
import type { NewPost } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { notYours } from '../http/problem.js';
import { refused, tryWork, type RefusedAt } from './edit.js';
import { findPost, loadPosts, type WholePostRow } from './store.js';

/** What a new post says of itself from the start. */
export type NewValues = Omit<Extract<PostEdit, { kind: 'set' }>['values'], 'run'> & { title: string };

/**
 * What a pitch of this person holds. A contributor's pitch is credited to them; the desk may credit anyone, or nobody
 * yet. Throws what is not theirs to do.
 */
export function pitchOf(person: CurrentPerson, input: NewPost): NewValues {
  const own = person.role === 'contributor';
  if (own && input.bylineId && input.bylineId !== person.id) throw notYours('Crediting somebody else');
  if (person.role === 'editor' && input.categoryId && !person.categories.includes(input.categoryId))
    throw notYours('Pitching for a category you do not edit');
  return {
    title: input.title,
    thought: input.thought,
    categoryId: input.categoryId ?? null,
    bylineId: own ? person.id : (input.bylineId ?? null),
    dateConstraint: input.dateConstraint,
  };
}

/** Puts a pitch in the tray. */
export function pitch(trx: Trx, person: CurrentPerson, input: NewPost): Promise<WholePostRow> {
  return createPost(trx, person, pitchOf(person, input));
}

interface NewOne {
  values: NewValues;
  more?: PostEdit[];
}

/** A new post; see `createPosts`. Throws what is refused as a problem. */
export async function createPost(
  trx: Trx,
  person: CurrentPerson,
  values: NewValues,
  source: { copiedFromId: number } | null = null,
  ...more: PostEdit[]
): Promise<WholePostRow> {
  const made = await createPosts(trx, person, [{ values, more }], source);
  if (made.refused.length > 0) throw refused(made.refused[0]!.refusal);
  return (await findPost(trx, person.blogId, made.ids[0]!))!;
}

/**
 * New posts, at the stage of a pitch, all of them or none: blank rows that the first edit of each fills, so that
 * version 1 is written and announced like any other. What a pitch says of itself is its maker's to say, whatever their
 * role. Gives the ids in the order given; where something is refused, the caller takes everything back.
 */
export async function createPosts(
  trx: Trx,
  person: CurrentPerson,
  list: readonly NewOne[],
  source: { copiedFromId: number } | null = null,
): Promise<{ ids: number[]; refused: RefusedAt[] }> {
  const untitled = list.flatMap(({ values }, at): RefusedAt[] =>
    values.title.trim() === ''
      ? [{ at, refusal: { ok: false, code: 'invalid', sentence: 'Its title would be empty.' } }]
      : [],
  );
  if (untitled.length > 0) return { ids: [], refused: untitled };
  const blank = {
    blog_id: person.blogId,
    version: 0,
    title: ' ',
    body: JSON.stringify(EMPTY_BODY),
    created_by: person.id,
    copied_from_id: source?.copiedFromId ?? null,
  };
  const rows = await trx('posts')
    .insert(list.map(() => blank))
    .returning<{ id: number }[]>('id');
  const ids = rows.map((r) => r.id).sort((a, b) => a - b);
  const posts = await loadPosts(trx, person.blogId, ids, { text: true });
  const maker: CurrentPerson = { ...person, role: 'managing editor' };
  const work = posts.map((post, i) => {
    const { values, more = [] } = list[i]!;
    return { post, edits: [{ kind: 'set' as const, values }, ...more] };
  });
  return { ids, refused: (await tryWork(trx, person.blogId, maker, work)).refused };
}
