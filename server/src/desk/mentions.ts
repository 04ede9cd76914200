import { may, mentionsIn, type Actor, type PostFacts } from '@keyroster/core';
import type { MentionItem, NoteMention } from '@keyroster/contract';
import { personRef } from '../accounts/people.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { emit } from '../live/live.js';
import { planMentionMail } from '../jobs/queue.js';
import { seenSql } from '../posts/visible.js';

/** So many notes that mention somebody stand on Today. */
const MAX_MENTIONS = 30;

const CATEGORIES = `
  array(
    select
      e.category_id
    from
      editor_categories e
    where
      e.person_id = p.id
      and e.blog_id = m.blog_id
  ) as categories
`;

/** Everybody who can be mentioned: the people who may enter the newsroom. */
const staff = (db: Queryable, blogId: number) =>
  db('people as p')
    .join('memberships as m', 'm.person_id', 'p.id')
    .where({ 'm.blog_id': blogId, 'p.active': true })
    .whereNot('m.role', 'reader');

/** Keeps whom new notes mention, and notifies those who want e-mail. Nobody is notified of what they wrote themselves. */
export async function storeMentions(
  trx: Trx,
  blogId: number,
  notes: readonly { id: number; personId: number; text: string }[],
): Promise<void> {
  if (!notes.some((n) => n.text.includes('@'))) return;
  const people = await staff(trx, blogId).select<{ id: number; name: string; mails: boolean }[]>(
    'p.id',
    'p.name',
    'p.mail_mentions as mails',
  );
  const called = notes.flatMap((note) =>
    [...new Set(mentionsIn(note.text, people).map((m) => m.person))]
      .filter((person) => person.id !== note.personId)
      .map((person) => ({ noteId: note.id, person })),
  );
  if (called.length === 0) return;
  await trx('note_mentions').insert(
    called.map(({ noteId, person }) => ({ note_id: noteId, person_id: person.id })),
  );
  await planMentionMail(
    trx,
    called.filter((c) => c.person.mails).map(({ noteId, person }) => ({ noteId, personId: person.id })),
  );
}

/** Whom notes of one post mention, by note; and whether they may see the post as it is now. */
export async function mentionsOf(
  db: Queryable,
  post: PostFacts,
  noteIds: readonly number[],
): Promise<Map<number, NoteMention[]>> {
  const rows = await db('note_mentions as n')
    .join('people as p', 'p.id', 'n.person_id')
    .join('notes as t', 't.id', 'n.note_id')
    // As they are on the blog of the note; on another one they may be something else.
    .join('memberships as m', (on) => on.on('m.person_id', 'p.id').andOn('m.blog_id', 't.blog_id'))
    .whereRaw('n.note_id = any(?)', [[...noteIds]])
    .orderBy('p.name')
    .select<(Actor & { noteId: number; name: string; active: boolean })[]>(
      'n.note_id as noteId',
      'p.id',
      'p.name',
      'p.active',
      'm.role',
      db.raw(CATEGORIES),
    );
  const by = new Map<number, NoteMention[]>();
  for (const row of rows)
    by.set(row.noteId, [
      ...(by.get(row.noteId) ?? []),
      { person: personRef(row), sees: row.active && may(row, 'see', post) },
    ]);
  return by;
}

/** Notes that mention a person, on posts that they may see, neither seen nor settled. */
export async function unseenMentions(db: Queryable, person: CurrentPerson): Promise<MentionItem[]> {
  const seen = seenSql(person, 'posts');
  const rows = await db('note_mentions as m')
    .join('notes as n', 'n.id', 'm.note_id')
    .leftJoin('notes as thread', 'thread.id', 'n.parent_id')
    .join('posts', 'posts.id', 'n.post_id')
    .join('people as p', 'p.id', 'n.person_id')
    .where({ 'm.person_id': person.id, 'posts.blog_id': person.blogId })
    .whereNull('m.seen_at')
    .whereNull('n.settled_at')
    .whereNull('thread.settled_at')
    .whereRaw(seen.text, seen.values)
    .orderBy('n.id', 'desc')
    .limit(MAX_MENTIONS)
    .select<(Omit<MentionItem, 'by'> & { by: number; name: string })[]>(
      'n.id as noteId',
      'posts.id as postId',
      'posts.title',
      'n.person_id as by',
      'p.name',
      'n.at',
      'n.text',
    );
  return rows.map(({ by, name, ...row }) => ({ ...row, by: personRef({ id: by, name }) }));
}

/** The person has seen the notes of a post. */
export async function seeMentions(trx: Trx, person: CurrentPerson, postId: number): Promise<void> {
  const seen = await trx('note_mentions')
    .where({ person_id: person.id })
    .whereNull('seen_at')
    .whereIn('note_id', trx('notes').where({ post_id: postId }).select('id'))
    .update({ seen_at: trx.raw('clock_timestamp()') });
  if (seen > 0) await emit(trx, { blogId: person.blogId, kind: 'note', postId, personId: person.id });
}
