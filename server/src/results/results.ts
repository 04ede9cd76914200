import { stringify } from 'csv-stringify/sync';
import type {
  GroupLine,
  OutletLine,
  PostLine,
  ResultsQuery,
  ResultsView,
  TotalLine,
} from '@keyroster/contract';
import {
  formatHour,
  FORM_NAMES,
  WEEKDAYS,
  bestHours,
  everyDay,
  formOfTitle,
  groupResults,
  lastDays,
  medianInterval,
  rankCorrelation,
  shareInterval,
  spanBefore,
  verdictOf,
  weekday,
  daysIn,
  type Span,
} from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { plainCell } from '../documents/plain-cell.js';
import { ProblemError } from '../http/problem.js';
import { clockOf } from '../slots/clock.js';
import { lettersSent } from './letters.js';
import { piecesSent, type SeenPiece } from '../outlets/seen.js';
import { countReleased, postsRead, postsReleased, readsByDay, type ReadPost } from './rows.js';

/** What is shown when no span is said, and the longest that can be. */
const USUAL_DAYS = 91;
const MAX_DAYS = 3660;
const SHOWN_POSTS = 100;
/** With fewer posts a connection is not worth a number. */
const MIN_PAIRS = 12;

/** The span that is asked for, by the blog's clock. */
export async function spanOf(
  db: Queryable,
  blogId: number,
  { from, to }: ResultsQuery,
): Promise<{ span: Span; today: string; zone: string }> {
  const { today, zone } = await clockOf(db, blogId);
  const span = from !== undefined && to !== undefined ? { from, to } : lastDays(today, USUAL_DAYS);
  if (span.from > span.to) throw new ProblemError('invalid', 'The first day comes after the last.');
  if (daysIn(span) > MAX_DAYS) throw new ProblemError('invalid', 'That is more than ten years at once.');
  return { span, today, zone };
}

const lineOf = (post: ReadPost): PostLine => ({
  id: post.id,
  title: post.title,
  runLocal: post.runLocal,
  category: post.category,
  byline: post.byline,
  form: formOfTitle(post.title),
  reads: post.reads,
  firstWeek: post.grown ? post.firstWeek : null,
});

function groupsOf(posts: readonly ReadPost[]): ResultsView['groups'] {
  const by = <K>(keyOf: (post: ReadPost) => K | null, labelOf: (key: K) => string): GroupLine[] =>
    groupResults(
      posts,
      (post) => {
        const key = keyOf(post);
        return key === null || key === '' ? [] : [key];
      },
      (post) => post.firstWeek,
    ).map(({ key, count, median, interval, verdict }) => ({
      label: labelOf(key),
      count,
      median,
      low: interval?.[0] ?? null,
      high: interval?.[1] ?? null,
      verdict,
    }));
  return {
    category: by((p) => p.category, String),
    person: by((p) => p.byline, String),
    weekday: by(
      (p) => weekday(p.runLocal.slice(0, 10)),
      (day) => WEEKDAYS[day - 1]!,
    ),
    hour: by((p) => Number(p.runLocal.slice(11, 13)), formatHour),
    form: by(
      (p) => formOfTitle(p.title),
      (form) => FORM_NAMES[form],
    ),
  };
}

const sum = <T>(rows: readonly T[], valueOf: (row: T) => number): number =>
  rows.reduce((total, row) => total + valueOf(row), 0);

export function outletLines(pieces: readonly SeenPiece[]): OutletLine[] {
  const ids = [...new Set(pieces.map((p) => p.outletId))];
  return ids
    .map((id) => {
      const own = pieces.filter((p) => p.outletId === id);
      const others = pieces.filter((p) => p.outletId !== id);
      const [seen, clicks] = [sum(own, (p) => p.seen), sum(own, (p) => p.clicks)];
      const interval = shareInterval(clicks, seen);
      const rest = shareInterval(
        sum(others, (p) => p.clicks),
        sum(others, (p) => p.seen),
      );
      return {
        id,
        name: own[0]!.outlet,
        pieces: own.length,
        seen,
        passedOn: sum(own, (p) => p.passedOn),
        replies: sum(own, (p) => p.replies),
        clicks,
        rate: interval && { share: clicks / seen, low: interval[0], high: interval[1] },
        verdict: verdictOf(interval, rest),
        bestHours: bestHours(own.map((p) => ({ hour: Number(p.sentLocal.slice(11, 13)), seen: p.seen }))),
      };
    })
    .sort((a, b) => b.seen - a.seen || b.pieces - a.pieces);
}

/** Counts of a span that are no sums of what is shown anyway. */
async function countsIn(db: Queryable, blogId: number, span: Span, zone: string) {
  const { rows } = await db.raw<{ rows: { comments: number; subscribers: number }[] }>(
    `
      select
        (
          select count(*) from comments c
          where
            c.blog_id = ?
            and c.state = 'approved'
            and (c.at at time zone ?)::date between ? and ?
        )::int as comments,
        (
          select count(*) from subscribers s
          where s.blog_id = ? and (s.confirmed_at at time zone ?)::date between ? and ?
        )::int as subscribers
    `,
    [blogId, zone, span.from, span.to, blogId, zone, span.from, span.to],
  );
  return rows[0]!;
}

/** What came of everything in a span, each figure beside as many days before. */
export async function seeResults(
  db: Queryable,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
  query: ResultsQuery,
): Promise<ResultsView> {
  const { span, today, zone } = await spanOf(db, blogId, query);
  const before = spanBefore(span);
  const part = async (days: Span) => {
    const [reads, released, pieces, counts] = await Promise.all([
      readsByDay(db, blogId, days),
      countReleased(db, blogId, days),
      piecesSent(db, blogId, { span: days, zone }),
      countsIn(db, blogId, days, zone),
    ]);
    return { reads, released, pieces, counts };
  };
  // Side by side: what is waited for is the database, and most of it for the posts.
  const [released, mostRead, now, then, letters] = await Promise.all([
    postsReleased(db, blogId, span, today),
    postsRead(db, blogId, span, today, SHOWN_POSTS),
    part(span),
    part(before),
    lettersSent(db, blogId, { span, zone }),
  ]);
  const total = (name: string, valueOf: (of: typeof now) => number): TotalLine => ({
    name,
    value: valueOf(now),
    before: valueOf(then),
  });
  const [days, daysBefore] = [everyDay(span, now.reads), everyDay(before, then.reads)];
  const grown = released.filter((p) => p.grown);
  return {
    span,
    before,
    totals: [
      total('Reads', (p) => sum([...p.reads.values()], (n) => n)),
      total('Posts released', (p) => p.released),
      total('Comments', (p) => p.counts.comments),
      total('Pieces sent', (p) => p.pieces.length),
      total('Pieces seen', (p) => sum(p.pieces, (piece) => piece.seen)),
      total('Passed on', (p) => sum(p.pieces, (piece) => piece.passedOn)),
      total('Clicks in pieces', (p) => sum(p.pieces, (piece) => piece.clicks)),
      total('New subscribers', (p) => p.counts.subscribers),
    ],
    days: days.map(({ day, value }, i) => ({ day, reads: value, before: daysBefore[i]!.value })),
    readsVerdict: verdictOf(
      medianInterval(days.map((d) => d.value)),
      medianInterval(daysBefore.map((d) => d.value)),
    ),
    groups: groupsOf(grown),
    tooYoung: released.length - grown.length,
    titleLength:
      grown.length < MIN_PAIRS
        ? null
        : rankCorrelation(
            grown.map((p) => [...p.title].length),
            grown.map((p) => p.firstWeek),
          ),
    posts: mostRead.map(lineOf),
    outlets: outletLines(now.pieces),
    letters,
  };
}

/** Every post that was read in a span, as CSV (RFC 4180). */
export async function resultsCsv(db: Queryable, blogId: number, query: ResultsQuery): Promise<string> {
  const { span, today } = await spanOf(db, blogId, query);
  const posts = await postsRead(db, blogId, span, today, null);
  return stringify(
    [
      ['post', 'title', 'run time', 'category', 'byline', 'reads', 'first week'],
      ...posts
        .map(lineOf)
        .map((p) => [
          p.id,
          plainCell(p.title),
          p.runLocal,
          plainCell(p.category),
          plainCell(p.byline),
          p.reads,
          p.firstWeek ?? '',
        ]),
    ],
    { bom: true, record_delimiter: 'windows' },
  );
}
