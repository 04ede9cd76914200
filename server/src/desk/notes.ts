import { may, type Passage } from '@keyroster/core';
import type { NewNote, NoteView } from '@keyroster/contract';
import { personRef } from '../accounts/people.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { emit } from '../live/live.js';
import { factsOf, type WholePostRow } from '../posts/store.js';
import type { EffectOn } from '../posts/effects.js';
import { visiblePostToChange } from '../posts/visible.js';
import { storeMentions, mentionsOf } from './mentions.js';

interface NoteRow {
  id: number;
  post_id: number;
  parent_id: number | null;
  person_id: number;
  name: string;
  text: string;
  passage: Passage | null;
  at: string;
  settled_at: string | null;
  settled_by: number | null;
  settled_name: string | null;
}

function noteRows(db: Queryable) {
  return db('notes as n')
    .join('people as p', 'p.id', 'n.person_id')
    .leftJoin('people as s', 's.id', 'n.settled_by')
    .select<NoteRow[]>(
      'n.id',
      'n.post_id',
      'n.parent_id',
      'n.person_id',
      'p.name',
      'n.text',
      'n.passage',
      'n.at',
      'n.settled_at',
      'n.settled_by',
      's.name as settled_name',
    );
}

function noteView(row: NoteRow, mentions: NoteView['mentions']): NoteView {
  return {
    id: row.id,
    postId: row.post_id,
    parentId: row.parent_id,
    by: personRef({ id: row.person_id, name: row.name }),
    text: row.text,
    passage: row.passage,
    at: row.at,
    settledAt: row.settled_at,
    settledBy:
      row.settled_by === null ? null : personRef({ id: row.settled_by, name: row.settled_name ?? '' }),
    mentions,
  };
}

async function withMentions(db: Queryable, post: WholePostRow, rows: NoteRow[]): Promise<NoteView[]> {
  const mentions = await mentionsOf(
    db,
    factsOf(post),
    rows.map((n) => n.id),
  );
  return rows.map((row) => noteView(row, mentions.get(row.id) ?? []));
}

export async function listNotes(db: Queryable, post: WholePostRow): Promise<NoteView[]> {
  return withMentions(db, post, await noteRows(db).where('n.post_id', post.id).orderBy('n.id'));
}

async function oneNote(db: Queryable, post: WholePostRow, noteId: number): Promise<NoteView> {
  return (await withMentions(db, post, await noteRows(db).where('n.id', noteId)))[0]!;
}

export async function addNote(
  trx: Trx,
  post: WholePostRow,
  person: CurrentPerson,
  input: NewNote,
): Promise<NoteView> {
  if (!may(person, 'note', factsOf(post))) throw notYours('Leaving notes on this post');
  const parentId = input.parentId ?? null;
  if (parentId !== null) {
    const parent = await trx('notes')
      .where({ id: parentId, post_id: post.id })
      .whereNull('parent_id')
      .first('id');
    if (!parent) throw new ProblemError('invalid', 'The note you are answering is not on this post.');
  }
  const [made] = await trx('notes')
    .insert({
      blog_id: post.blog_id,
      post_id: post.id,
      parent_id: parentId,
      person_id: person.id,
      text: input.text,
      passage: input.passage && parentId === null ? JSON.stringify(input.passage) : null,
    })
    .returning<{ id: number }[]>('id');
  await storeMentions(trx, post.blog_id, [{ id: made!.id, personId: person.id, text: input.text }]);
  await emit(trx, { blogId: post.blog_id, kind: 'note', postId: post.id, personId: person.id });
  return oneNote(trx, post, made!.id);
}

export async function resolveNote(
  trx: Trx,
  person: CurrentPerson,
  noteId: number,
  settled: boolean,
): Promise<NoteView> {
  const found = await trx('notes')
    .where({ id: noteId, blog_id: person.blogId })
    .forUpdate()
    .first<{ post_id: number; parent_id: number | null } | undefined>('post_id', 'parent_id');
  if (!found) throw notFound('That note');
  const post = await visiblePostToChange(trx, person, found.post_id);
  if (!may(person, 'settle', factsOf(post))) throw notYours('Settling notes on this post');
  if (found.parent_id !== null)
    throw new ProblemError('invalid', 'Settle the note that was answered, not the answer.');
  await trx('notes')
    .where({ id: noteId })
    .update(
      settled
        ? { settled_at: trx.raw('clock_timestamp()'), settled_by: person.id }
        : { settled_at: null, settled_by: null },
    );
  await emit(trx, { blogId: person.blogId, kind: 'note', postId: found.post_id, personId: person.id });
  return oneNote(trx, post, noteId);
}

/** What was said with a move stands among the post's notes, and those who have it open are told. */
export async function noteMoves(trx: Trx, effects: readonly EffectOn<'moved'>[]): Promise<void> {
  const said = effects.filter(({ step, on }) => step.note !== '' && on.personId !== null);
  if (said.length === 0) return;
  const made = await trx('notes')
    .insert(
      said.map(({ step, on }) => ({
        blog_id: on.blogId,
        post_id: on.after.id,
        person_id: on.personId,
        text: step.note,
      })),
    )
    .returning<{ id: number; person_id: number; text: string }[]>(['id', 'person_id', 'text']);
  await storeMentions(
    trx,
    said[0]!.on.blogId,
    made.map(({ id, person_id, text }) => ({ id, personId: person_id, text })),
  );
  await emit(
    trx,
    ...said.map(({ on }) => ({
      blogId: on.blogId,
      kind: 'note' as const,
      postId: on.after.id,
      personId: on.personId,
    })),
  );
}
