import { may } from '@keyroster/core';
import { findPerson } from '../accounts/who.js';
import type { Db } from '../db/connect.js';
import type { Jobs } from '../jobs/queue.js';
import { factsOf, findPost } from '../posts/store.js';
import type { Settings } from '../settings.js';
import { sendLetter } from './mail.js';

interface Mentioned {
  blog_id: number;
  post_id: number;
  text: string;
  by: string;
  settled: boolean;
  seen_at: string | null;
  mailed_at: string | null;
}

/**
 * Mails somebody that a note mentions them: if they still wish it and may see the post, and have not seen the note.
 * Answers whether a letter went.
 */
export async function mailMention(
  db: Db,
  { noteId, personId }: Jobs['mention'],
  settings: Pick<Settings, 'mailServer' | 'mailFrom' | 'publicUrl'>,
): Promise<boolean> {
  if (!settings.mailServer) return false;
  const note = await db('note_mentions as m')
    .join('notes as n', 'n.id', 'm.note_id')
    .leftJoin('notes as thread', 'thread.id', 'n.parent_id')
    .join('people as p', 'p.id', 'n.person_id')
    .where({ 'm.note_id': noteId, 'm.person_id': personId })
    .first<Mentioned | undefined>(
      'n.post_id',
      'n.blog_id',
      'n.text',
      'p.name as by',
      // An answer is settled with the note that it answers.
      db.raw('coalesce(n.settled_at, thread.settled_at) is not null as settled'),
      'm.seen_at',
      'm.mailed_at',
    );
  const person = note ? await findPerson(db, personId, note.blog_id) : null;
  // People who turned off all e-mail get none of mentions, either.
  const wish = await db('memberships')
    .where({ person_id: personId, blog_id: note?.blog_id ?? 0 })
    .first<{ notify: string } | undefined>('notify');
  if (
    !person?.mailMentions ||
    wish?.notify === 'none' ||
    !note ||
    note.settled ||
    note.seen_at ||
    note.mailed_at
  )
    return false;
  const post = await findPost(db, person.blogId, note.post_id);
  if (!post || !may(person, 'see', factsOf(post))) return false;
  await sendLetter(settings, {
    to: { name: person.name, address: person.email },
    subject: `${note.by} mentions you: ${post.title}`,
    text: [
      `${note.by} mentions you in a note on “${post.title}”:`,
      note.text,
      `${settings.publicUrl}/desk/posts/${post.id}?note=${noteId}`,
      'You get this because you wish for mail when a note mentions you. It can be changed in the newsroom, in the ' +
        'menu under your initials, Your account.',
    ].join('\n\n'),
  });
  await db('note_mentions')
    .where({ note_id: noteId, person_id: personId })
    .update({ mailed_at: db.raw('clock_timestamp()') });
  return true;
}
