import type { LetterCounts, LetterLine, LetterState, LetterView } from '@keyroster/contract';
import { may, whyNotPublic, type Access, type Stage } from '@keyroster/core';
import { personRef } from '../accounts/people.js';
import { DELAYED_PARTS } from '../access/readable.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { notFound } from '../http/problem.js';
import { postRows, factsOf } from '../posts/store.js';
import { siteSettings } from '../pages/reader-blog.js';
import type { BuiltLetter } from './build.js';
import { activeSubscribers } from './of-post.js';

const SHOWN = 200;

export interface LetterRow {
  id: number;
  blog_id: number;
  version: number;
  subject: string;
  intro: string;
  whole: boolean;
  state: LetterState;
  released_post_id: number | null;
  note: string;
  content: BuiltLetter | null;
  made_by: number | null;
  made_at: string;
  begun_at: string | null;
  ended_at: string | null;
}

interface Counted extends LetterRow {
  maker: string | null;
  posts: number;
  counts: Record<keyof LetterCounts, number>;
  next_try_at: string | null;
}

/** Letters with how many of each stand where. */
const counted = (db: Queryable, blogId: number) =>
  db('letters as l')
    .leftJoin('people as w', 'w.id', 'l.made_by')
    .where('l.blog_id', blogId)
    .select<Counted[]>(
      'l.*',
      'w.name as maker',
      db.raw('(select count(*) from letter_posts p where p.letter_id = l.id)::int as posts'),
      db.raw(`
        (
          select
            json_build_object(
              'waiting', count(*) filter (where s.state in ('waiting', 'handing')),
              'deferred', count(*) filter (where s.state = 'waiting' and s.tries > 0),
              'sent', count(*) filter (where s.state = 'sent'),
              'failed', count(*) filter (where s.state = 'failed'),
              'undelivered', count(*) filter (where s.state = 'undelivered'),
              'unsure', count(*) filter (where s.state = 'unsure'),
              'left', count(*) filter (where s.state = 'left'),
              'bounced', count(*) filter (where s.bounced),
              'unsubscribed', count(*) filter (where s.unsubscribed),
              'opened', count(s.opened_at),
              'clicked', (select coalesce(sum(c.clicks), 0) from letter_clicks c where c.letter_id = l.id)
            )
          from
            letter_sends s
          where
            s.letter_id = l.id
        ) as counts
      `),
      // An index gives the first that waits.
      db.raw(`
        (
          select
            min(s.due_at)
          from
            letter_sends s
          where
            s.letter_id = l.id
            and s.state = 'waiting'
          having
            min(s.due_at) > now()
        ) as next_try_at
      `),
    );

type Counting = { opens: boolean; clicks: boolean };

async function countingOf(db: Queryable, blogId: number): Promise<Counting> {
  const { site } = (await db('blogs').where({ id: blogId }).first<{ site: object }>('site'))!;
  const { letterOpens, letterClicks } = siteSettings(site);
  return { opens: letterOpens, clicks: letterClicks };
}

/** What was counted stays shown where it was counted once. */
const lineOf = (row: Counted, counting: Counting): LetterLine => ({
  id: row.id,
  subject: row.subject,
  state: row.state,
  posts: row.posts,
  counts: {
    ...row.counts,
    opened: counting.opens || row.counts.opened > 0 ? row.counts.opened : null,
    clicked: counting.clicks || row.counts.clicked > 0 ? row.counts.clicked : null,
  },
  by: row.made_by === null ? null : personRef({ id: row.made_by, name: row.maker! }),
  madeAt: row.made_at,
  begunAt: row.begun_at,
  endedAt: row.ended_at,
  nextTryAt: row.state === 'sending' ? row.next_try_at : null,
  atRelease: row.released_post_id !== null,
  note: row.note,
});

export async function listLetters(
  db: Queryable,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
): Promise<LetterLine[]> {
  const counting = await countingOf(db, blogId);
  const rows = await counted(db, blogId).orderBy('l.id', 'desc').limit(SHOWN);
  return rows.map((row) => lineOf(row, counting));
}

/** The posts of a letter in their order, without checking who may see them. */
export async function postIdsOf(db: Queryable, letterId: number): Promise<number[]> {
  return db('letter_posts').where({ letter_id: letterId }).orderBy('position').pluck<number[]>('post_id');
}

/** Why readers do not see a post; empty where everybody does. */
function withheldOf(post: { stage: Stage; access: Access; delayed: boolean }): string {
  if (post.stage !== 'published') return 'It is not published.';
  return whyNotPublic(post.access, post.delayed) ?? '';
}

export async function seeLetter(db: Queryable, person: CurrentPerson, id: number): Promise<LetterView> {
  const { blogId } = person;
  const [row] = await counted(db, blogId).where('l.id', id);
  if (!row) throw notFound('That letter');
  const ids = await postIdsOf(db, id);
  const posts = await postRows(db).where('posts.blog_id', blogId).whereIn('posts.id', ids);
  const delayed = await db
    .raw<{ rows: { post_id: number }[] }>(DELAYED_PARTS)
    .then(({ rows }) => rows.map((r) => r.post_id));
  const clicks = await db('letter_clicks')
    .where({ letter_id: id })
    .orderBy('clicks', 'desc')
    .select<{ link: number; clicks: number }[]>('link', 'clicks');
  return {
    ...lineOf(row, await countingOf(db, blogId)),
    version: row.version,
    intro: row.intro,
    whole: row.whole,
    posts: ids
      .flatMap((postId) => posts.filter((p) => p.id === postId && may(person, 'see', factsOf(p))))
      .map((p) => ({
        id: p.id,
        title: p.title,
        stage: p.stage,
        withheld: withheldOf({ stage: p.stage, access: p.access, delayed: delayed.includes(p.id) }),
      })),
    subscribers: await activeSubscribers(db, blogId),
    clicks: clicks.map((c) => ({ url: row.content?.urls[c.link] ?? '', clicks: c.clicks })),
  };
}
