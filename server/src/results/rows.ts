import { FIRST_DAYS, type WallTime, type Span } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';

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
  db: Queryable,
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

/** How many posts that are out were released in a span. */
export async function countReleased(db: Queryable, blogId: number, span: Span): Promise<number> {
  const [row] = await db('posts')
    .where({ blog_id: blogId, stage: 'published' })
    .whereRaw('run_local >= ?::date and run_local < ?::date + 1', [span.from, span.to])
    .count<{ count: number }[]>('* as count');
  return row!.count;
}

/** Posts that were read in a span, the most read first. */
export async function postsRead(
  db: Queryable,
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
export async function readsByDay(db: Queryable, blogId: number, span: Span): Promise<Map<string, number>> {
  const rows = await db('blog_reads')
    .where({ blog_id: blogId })
    .whereBetween('day', [span.from, span.to])
    .select<{ day: string; reads: number }[]>(db.raw('day::text as day'), db.raw('reads::int as reads'));
  return new Map(rows.map((r) => [r.day, r.reads]));
}
