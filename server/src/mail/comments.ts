import { formatCount } from '@keyroster/core';
import type { Db } from '../db/connect.js';
import type { Jobs } from '../jobs/queue.js';
import type { Settings } from '../settings.js';
import { sendLetter } from './mail.js';

const SHOWN = 5;
const MAX_QUOTED = 400;

interface Told {
  name: string;
  text: string;
  state: string;
}

/**
 * Mails who is credited with a post what readers said since the last letter: all of it in one, however much came. A
 * letter that cannot be sent leaves them unnotified, for the next try. Answers how many letters went.
 */
export async function mailComments(
  db: Db,
  { postId }: Jobs['comments'],
  settings: Pick<Settings, 'mailServer' | 'mailFrom' | 'publicUrl'>,
): Promise<number> {
  const untold = await db('comments')
    .where({ post_id: postId, told_at: null })
    .whereIn('state', ['held', 'approved'])
    .orderBy('id')
    .select<(Told & { id: number })[]>('id', 'name', 'text', 'state');
  if (untold.length === 0) return 0;
  const people = settings.mailServer ? await writersOf(db, postId) : [];
  const { title } = (await db('all_posts').where({ id: postId }).first<{ title: string }>('title'))!;
  for (const { name, email } of people)
    await sendLetter(settings, {
      to: { name, address: email },
      subject: `${formatCount(untold.length, 'comment')} on “${title}”`,
      text: letterText(untold, `${settings.publicUrl}/desk/posts/${postId}`),
    });
  await db('comments')
    .whereIn(
      'id',
      untold.map((c) => c.id),
    )
    .update({ told_at: db.fn.now() });
  return people.length;
}

const writersOf = (db: Db, postId: number): Promise<{ name: string; email: string }[]> =>
  db('posts as p')
    .join('people as w', (on) =>
      on
        .on('w.id', 'p.byline_id')
        .orOn(db.raw('w.id in (select person_id from post_coauthors where post_id = p.id)')),
    )
    .join('memberships as m', (on) => on.on('m.person_id', 'w.id').andOn('m.blog_id', 'p.blog_id'))
    .where({ 'p.id': postId, 'w.active': true, 'w.mail_comments': true })
    .whereNot('m.role', 'reader')
    .select<{ name: string; email: string }[]>('w.name', 'w.email');

function letterText(comments: readonly Told[], address: string): string {
  const waiting = comments.filter((c) => c.state === 'held').length;
  const cut = (text: string) => (text.length > MAX_QUOTED ? `${text.slice(0, MAX_QUOTED)} …` : text);
  return [
    ...comments.slice(0, SHOWN).map((c) => `${c.name}:\n${cut(c.text)}`),
    ...(comments.length > SHOWN ? [`And ${comments.length - SHOWN} more.`] : []),
    ...(waiting > 0
      ? [
          `${waiting === 1 ? 'One waits' : `${waiting} wait`} until an editor has read ${waiting === 1 ? 'it' : 'them'}.`,
        ]
      : []),
    address,
    'You get this because you are credited with the post; it can be turned off in the newsroom, under your account.',
  ].join('\n\n');
}
