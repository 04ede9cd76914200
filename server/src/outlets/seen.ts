import { bestHours, lastDays, type OutletHours, type Span, type WallTime } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { clockOf } from '../slots/clock.js';

/** Days over which it is told how an outlet or a person does at present: a quarter of a year. */
export const LATELY = 91;
/** Over which it is told which hours are best: that takes more pieces than a quarter of a year has. */
const YEAR = 365;

/** A piece that is out, with its newest figures. */
export interface SeenPiece {
  sendId: number;
  pieceId: number;
  postId: number;
  outletId: number;
  outlet: string;
  kind: string;
  url: string;
  sentLocal: WallTime;
  seen: number;
  passedOn: number;
  replies: number;
  clicks: number;
}

/** Pieces sent in a span, of posts that are out, or of one post whenever they went. */
export async function piecesSent(
  db: Queryable,
  blogId: number,
  { span, zone, postId = null }: { span: Span; zone: string; postId?: number | null },
): Promise<SeenPiece[]> {
  const { rows } = await db.raw<{ rows: SeenPiece[] }>(
    `
      select
        s.id as "sendId",
        s.piece_id as "pieceId",
        p.post_id as "postId",
        o.id as "outletId",
        o.name as outlet,
        p.kind,
        s.url,
        (s.sent_at at time zone ?)::timestamp(0) as "sentLocal",
        coalesce(f.seen, 0) as seen,
        coalesce(f.passed_on, 0) as "passedOn",
        coalesce(f.replies, 0) as replies,
        coalesce(f.clicks, 0) as clicks
      from
        sends s
        join pieces p on p.id = s.piece_id
        join posts t on t.id = p.post_id and t.stage = 'published'
        join outlets o on o.id = s.outlet_id
        left join lateral (
          select * from piece_figures f where f.send_id = s.id order by f.day desc limit 1
        ) f on true
      where
        s.blog_id = ?
        and s.state = 'sent'
        and (
          p.post_id = ?::int
          or (?::int is null and (s.sent_at at time zone ?)::date between ? and ?)
        )
      order by
        s.sent_at desc
    `,
    [zone, blogId, postId, postId, zone, span.from, span.to],
  );
  return rows;
}

/** Hours in which the pieces of each outlet do better than in others, as far as that is more than chance. */
export async function hoursOf(db: Queryable, blogId: number): Promise<OutletHours[]> {
  const { today, zone } = await clockOf(db, blogId);
  const pieces = await piecesSent(db, blogId, { span: lastDays(today, YEAR), zone });
  return [...new Set(pieces.map((p) => p.outletId))].flatMap((outletId) => {
    const own = pieces.filter((p) => p.outletId === outletId);
    const best = bestHours(own.map((p) => ({ hour: Number(p.sentLocal.slice(11, 13)), seen: p.seen })));
    const hours = best.map(({ hour, count }) => ({ hour, count }));
    return hours.length === 0 ? [] : [{ outletId, outlet: own[0]!.outlet, hours }];
  });
}
