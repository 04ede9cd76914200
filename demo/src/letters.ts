import { addDays } from '@keyroster/core';
import { buildLetter } from '@keyroster/server';
import type { Loading } from './loading.js';

const NAMES =
  'alder barge bramble cattail coot dipper elver ferry gannet heron islet juncus kelp lapwing moorhen newt osier plover quay reed sedge teal umber vole wharf yarrow'.split(
    ' ',
  );
const HOUSES = ['readers', 'letterbox', 'towpath', 'moorings'];
const COUNT = 236;
/** Weeks ago on which a letter went out, each with the posts of the weeks before. */
const WEEKS = [21, 17, 13, 9, 5, 1];
const SUBJECTS = [
  'What the dry months left in the cut',
  'Three locks, one flask',
  'How quiet is a Tuesday night?',
  'Paint, patience and a hull in the reeds',
  'Autumn stoppages and where to wait them out',
  'The first ice, and what it does to paint',
];

/** A number from nought on that is the same every time. */
const spread = (i: number, of: number) => ((i * 2654435761) >>> 8) % of;

/** Who gets the letter, the letters of half a year with what came of them, and a draft. */
export async function loadLetters(
  { trx, blogId, now, nowLocal, people }: Loading,
  home: string,
): Promise<void> {
  const today = nowLocal.slice(0, 10);
  const at = (daysAgo: number, hour = 10) =>
    `${addDays(today, -daysAgo)}T${String(hour).padStart(2, '0')}:15:00Z`;
  const posts = await trx('posts')
    .where({ blog_id: blogId, stage: 'published', access: 'everyone' })
    .whereNotIn('id', trx('serial_parts').select('post_id'))
    .orderBy('run_at', 'desc')
    .select<{ id: number; title: string; run_at: string }[]>('id', 'title', 'run_at');
  const subscribers = Array.from({ length: COUNT }, (_, i) => {
    const days = 3 + spread(i + 1, 360);
    const state = i % 29 === 7 ? 'left' : i % 41 === 9 ? 'bounced' : i % 53 === 11 ? 'asked' : 'active';
    const email = `${NAMES[i % NAMES.length]}${i < NAMES.length ? '' : i}@${HOUSES[i % HOUSES.length]}.example`;
    return {
      blog_id: blogId,
      email,
      name: i % 3 === 0 ? NAMES[i % NAMES.length]!.replace(/^./, (c) => c.toUpperCase()) : '',
      state,
      how: i % 5 === 0 ? 'import' : 'form',
      post_id: i % 5 === 0 ? null : posts[spread(i, posts.length)]!.id,
      asked_at: at(days, 9),
      confirmed_at: state === 'asked' ? null : at(days, 10),
      left_at: state === 'left' ? at(Math.max(1, days - 30)) : null,
      bounces: state === 'bounced' ? 1 : 0,
      bounce_said: state === 'bounced' ? 'It came back (5.1.1): 550 5.1.1 no such user.' : '',
    };
  });
  // In the order in which they came.
  subscribers.sort((a, b) => (a.asked_at < b.asked_at ? -1 : 1));
  await trx('subscribers').insert(subscribers);
  for (const [i, weeks] of WEEKS.entries()) {
    const begun = at(weeks * 7, 7);
    const before = posts.filter((p) => Date.parse(p.run_at) < Date.parse(begun)).slice(0, 3);
    const id = await insertLetter(before, {
      subject: SUBJECTS[i]!,
      state: 'sent',
      begun_at: begun,
      ended_at: begun.replace(':15:00', ':15:21'),
      made_at: at(weeks * 7 + 1, 16),
      sent_by: people.get('MW')!,
    });
    const source = { id, blogId, subject: SUBJECTS[i]!, intro: '', whole: false };
    const content = await buildLetter(
      trx,
      source,
      before.map((p) => p.id),
      { publicUrl: home },
    );
    await trx('letters')
      .where({ id })
      .update({ content: JSON.stringify(content) });
    await trx.raw(
      `
        insert into
          letter_sends (letter_id, subscriber_id, state, at, bounced, unsubscribed, opened_at)
        select
          ?,
          s.id,
          case when s.id % 61 = 5 then 'failed' else 'sent' end,
          ?::timestamptz,
          s.id % 61 = 5,
          s.state = 'left' and s.left_at between ?::timestamptz and ?::timestamptz + interval '28 days',
          case when (s.id * 37 + ? * 11) % 100 < ? then ?::timestamptz + interval '3 hours' end
        from
          subscribers s
        where
          s.blog_id = ?
          and s.confirmed_at < ?::timestamptz
          and (s.left_at is null or s.left_at > ?::timestamptz)
      `,
      [id, begun, begun, begun, i, 38 + 4 * i, begun, blogId, begun, begun],
    );
    await trx('letter_clicks').insert(
      content.urls
        .slice(1)
        .map((_, link) => ({ letter_id: id, link: link + 1, clicks: 9 + spread(i * 3 + link, 40) })),
    );
  }
  await insertLetter(posts.slice(0, 3), {
    subject: 'Kettles on: what went out this week',
    state: 'draft',
    made_at: now,
    intro: 'Dear all,\n\nthree posts for a cold week, and one of them smells of varnish.',
  });

  async function insertLetter(
    chosen: readonly { id: number }[],
    fields: Record<string, unknown>,
  ): Promise<number> {
    const [letter] = await trx('letters')
      .insert({ blog_id: blogId, made_by: people.get('MW'), ...fields })
      .returning<{ id: number }[]>('id');
    await trx('letter_posts').insert(
      chosen.map(({ id }, position) => ({ letter_id: letter!.id, post_id: id, position })),
    );
    return letter!.id;
  }
}
