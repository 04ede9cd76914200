import type { WallTime, Span } from '@keyroster/core';
import type { Reader } from '../db/connect.js';

/** Days from the release on in which posts are compared, so that young and old are measured alike. */
export const FIRST_DAYS = 7;

/** A published post with how often it was read. */
export interface ReadPost {
  id: number;
  title: string;
  runLocal: WallTime;
  categoryId: number | null;
  category: string;
  bylineId: number | null;
  byline: string;
  /** In a span. */
  reads: number;
  /** In its first days. */
  firstWeek: number;
  /** Its first days are over. */
  grown: boolean;
}

const COLUMNS = `
  p.id,
  p.title,
  p.run_local as "runLocal",
  p.category_id as "categoryId",
  coalesce(c.name, '') as category,
  p.byline_id as "bylineId",
  coalesce(w.name, '') as byline,
  coalesce(
    (
      select sum(r.reads) from post_reads r
      where r.post_id = p.id and r.day >= p.run_local::date and r.day < p.run_local::date + ${FIRST_DAYS}
    ),
    0
  )::int as "firstWeek",
  p.run_local::date + ${FIRST_DAYS} <= ?::date as grown
`;
const JOINS = `
  left join categories c on c.id = p.category_id
  left join people w on w.id = p.byline_id
`;

/** Posts released in a span, those that are out. */
export async function postsReleased(
  db: Reader,
  blogId: number,
  span: Span,
  today: string,
): Promise<ReadPost[]> {
  const { rows } = await db.raw<{ rows: ReadPost[] }>(
    `
      select
        ${COLUMNS},
        0 as reads
      from
        posts p ${JOINS}
      where
        p.blog_id = ?
        and p.stage = 'published'
        and p.run_local >= ?::date
        and p.run_local < ?::date + 1
    `,
    [today, blogId, span.from, span.to],
  );
  return rows;
}

/** Posts that were read in a span, the most read first. */
export async function postsRead(
  db: Reader,
  blogId: number,
  span: Span,
  today: string,
  most: number | null,
): Promise<ReadPost[]> {
  const { rows } = await db.raw<{ rows: ReadPost[] }>(
    `
      select
        ${COLUMNS},
        t.reads
      from
        (
          select
            r.post_id,
            sum(r.reads)::int as reads
          from
            post_reads r
            join posts q on q.id = r.post_id and q.blog_id = ? and q.stage = 'published'
          where
            r.day between ? and ?
          group by
            r.post_id
          order by
            reads desc,
            r.post_id
          limit
            ?
        ) t
        join posts p on p.id = t.post_id ${JOINS}
      order by
        t.reads desc,
        p.id
    `,
    // In the order of the placeholders: those of the columns stand first.
    [today, blogId, span.from, span.to, most],
  );
  return rows;
}

/** Reads of a blog by day; also those of posts that are gone since: they were read. */
export async function readsByDay(db: Reader, blogId: number, span: Span): Promise<Map<string, number>> {
  const rows = await db('blog_reads')
    .where({ blog_id: blogId })
    .whereBetween('day', [span.from, span.to])
    .select<{ day: string; reads: number }[]>(db.raw('day::text as day'), db.raw('reads::int as reads'));
  return new Map(rows.map((r) => [r.day, r.reads]));
}

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
  db: Reader,
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
