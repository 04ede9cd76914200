import type { PlaceFigures, PlaceQuery, PostResults } from '@keyroster/contract';
import {
  FIRST_DAYS,
  VERDICT_NAMES,
  addDays,
  formatCount,
  formatHour,
  groupResults,
  lastDays,
  median,
  medianInterval,
  type WallTime,
} from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { notFound } from '../http/problem.js';
import type { WholePostRow } from '../posts/store.js';
import { visiblePost } from '../posts/visible.js';
import { clockOf } from '../slots/clock.js';
import { lettersSent } from './letters.js';
import { outletLines } from './results.js';
import { LATELY, hoursOf, piecesSent } from '../outlets/seen.js';
import { postsReleased } from './rows.js';

/** A year back, others of its category are compared with. */
const YEAR = 365;

const number = (n: number): string => Math.round(n).toLocaleString('en-GB');

/** What came of one post that the person may see. */
export async function postResults(db: Queryable, person: CurrentPerson, id: number): Promise<PostResults> {
  return resultsOf(db, await visiblePost(db, person, id));
}

async function resultsOf(db: Queryable, post: WholePostRow): Promise<PostResults> {
  const { today, zone } = await clockOf(db, post.blog_id);
  const span = lastDays(today, YEAR);
  const days = await db('post_reads')
    .where({ post_id: post.id })
    .orderBy('day')
    .select<{ day: string; reads: number }[]>(db.raw('day::text as day'), 'reads');
  const released = post.run_local?.slice(0, 10) ?? null;
  const grown = released !== null && addDays(released, FIRST_DAYS) <= today;
  const [{ n } = { n: 0 }] = await db('comments')
    .where({ post_id: post.id, state: 'approved' })
    .select<{ n: number }[]>(db.raw('count(*)::int as n'));
  const others = (await postsReleased(db, post.blog_id, span, today)).filter(
    (p) => p.grown && p.id !== post.id && p.categoryId === post.category_id,
  );
  const interval = medianInterval(others.map((p) => p.firstWeek));
  return {
    id: post.id,
    title: post.title,
    runLocal: post.run_local as WallTime | null,
    reads: days.reduce((sum, d) => sum + d.reads, 0),
    firstWeek: grown
      ? days
          .filter((d) => d.day >= released && d.day < addDays(released, FIRST_DAYS))
          .reduce((sum, d) => sum + d.reads, 0)
      : null,
    comments: n,
    category:
      others.length === 0
        ? null
        : {
            name: others[0]!.category,
            count: others.length,
            median: median(others.map((p) => p.firstWeek)),
            low: interval?.[0] ?? null,
            high: interval?.[1] ?? null,
          },
    days,
    pieces: (await piecesSent(db, post.blog_id, { span, zone, postId: post.id })).map(
      ({ sendId, outlet, kind, sentLocal, url, seen, passedOn, replies, clicks }) => ({
        ...{ id: sendId, outlet, kind, sentLocal, url },
        ...{ seen, passedOn, replies, clicks },
      }),
    ),
    letters: await lettersSent(db, post.blog_id, { span, zone, postId: post.id }),
  };
}

/** Figures in a few sentences, to stand where a person, an outlet or a post is shown. */
export async function placeFigures(
  db: Queryable,
  currentPerson: CurrentPerson,
  { person, outlet, post }: PlaceQuery,
): Promise<PlaceFigures> {
  if (post !== undefined) return { sentences: postSentences(await postResults(db, currentPerson, post)) };
  return {
    sentences:
      person !== undefined
        ? await personSentences(db, currentPerson.blogId, person)
        : await outletSentences(db, currentPerson.blogId, outlet!),
  };
}

function postSentences({ reads, firstWeek, category, pieces }: PostResults): string[] {
  if (reads === 0 && pieces.length === 0) return [];
  const seen = pieces.reduce((sum, p) => sum + p.seen, 0);
  return [
    firstWeek === null
      ? `Read ${formatCount(reads, 'time')} so far.`
      : `Read ${number(reads)} times, ${number(firstWeek)} of them in its first week.`,
    ...(firstWeek !== null && category && category.low !== null && category.high !== null
      ? [
          firstWeek > category.high
            ? `More than ${category.name} usually is (${number(category.low)} to ${number(category.high)}).`
            : firstWeek < category.low
              ? `Less than ${category.name} usually is (${number(category.low)} to ${number(category.high)}).`
              : `As ${category.name} usually is (${number(category.low)} to ${number(category.high)}).`,
        ]
      : []),
    ...(pieces.length > 0
      ? [`${formatCount(pieces.length, 'piece')} sent, seen ${formatCount(seen, 'time')}.`]
      : []),
  ];
}

async function personSentences(db: Queryable, blogId: number, personId: number): Promise<string[]> {
  const { today } = await clockOf(db, blogId);
  const member = await db('memberships').where({ blog_id: blogId, person_id: personId }).first('person_id');
  if (!member) throw notFound('That person');
  const grown = (await postsReleased(db, blogId, lastDays(today, LATELY), today)).filter((p) => p.grown);
  const own = groupResults(
    grown,
    (p) => [p.bylineId],
    (p) => p.firstWeek,
  ).find((g) => g.key === personId);
  if (!own) return [`Nothing of theirs that is a week old came out in the last ${LATELY} days.`];
  const range = own.interval ? ` (${number(own.interval[0])} to ${number(own.interval[1])})` : '';
  return [
    `${formatCount(own.count, 'post')} in the last ${LATELY} days, read ${number(own.median)} times in ` +
      `${own.count === 1 ? 'its' : 'their'} first week at the median${range}: ${VERDICT_NAMES[own.verdict]}.`,
  ];
}

async function outletSentences(db: Queryable, blogId: number, outletId: number): Promise<string[]> {
  const { today, zone } = await clockOf(db, blogId);
  if (!(await db('outlets').where({ blog_id: blogId, id: outletId }).first('id')))
    throw notFound('That outlet');
  const lines = outletLines(await piecesSent(db, blogId, { span: lastDays(today, LATELY), zone }));
  const own = lines.find((l) => l.id === outletId);
  if (!own) return [`Nothing went there in the last ${LATELY} days.`];
  const hours = (await hoursOf(db, blogId)).find((h) => h.outletId === outletId);
  const percent = (share: number) => `${(100 * share).toFixed(1)}%`;
  return [
    `${formatCount(own.pieces, 'piece')} in the last ${LATELY} days, seen ${formatCount(own.seen, 'time')}, ` +
      `passed on ${formatCount(own.passedOn, 'time')}.`,
    ...(own.rate && own.clicks > 0
      ? [
          `Clicked by ${percent(own.rate.share)} (${percent(own.rate.low)} to ${percent(own.rate.high)}): ` +
            `${VERDICT_NAMES[own.verdict]}.`,
        ]
      : []),
    hours
      ? `In a year seen most at ${hours.hours.map((h) => formatHour(h.hour)).join(', ')} ` +
        `(${hours.hours.map((h) => formatCount(h.count, 'piece')).join(', ')}).`
      : 'Of hours it cannot be told yet which is better.',
  ];
}
