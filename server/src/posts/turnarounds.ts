import { dateOf, paceOf, type Turnaround } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';

/** How far back posts say how long things take. */
const YEARS = '1 year';

interface Row {
  bylineId: number | null;
  copyDue: string | null;
  commissioned: string | null;
  handedIn: string | null;
  cleared: string | null;
}

/** How the posts of the last year went from hand to hand; `zone` is the blog's. */
export async function turnarounds(db: Queryable, blogId: number, zone: string): Promise<Turnaround[]> {
  const { rows } = await db.raw<{ rows: Row[] }>(
    `
      select
        p.byline_id as "bylineId",
        p.copy_date as "copyDue",
        min(m.at) filter (where m.to_stage = 'commissioned') as commissioned,
        min(m.at) filter (where m.to_stage = 'in review') as "handedIn",
        min(m.at) filter (where m.to_stage = 'cleared') as cleared
      from
        stage_moves m
        join posts p on p.id = m.post_id
      where
        m.blog_id = ?
        and m.at > now() - interval '${YEARS}'
      group by
        p.id,
        p.byline_id,
        p.copy_date
    `,
    [blogId],
  );
  const date = (at: string | null) => at && dateOf(at, zone);
  return rows.map((row) => ({
    bylineId: row.bylineId,
    copyDue: row.copyDue,
    commissioned: date(row.commissioned),
    handedIn: date(row.handedIn),
    cleared: date(row.cleared),
  }));
}

/** The blog's and its writers' pace. */
export const paceOfBlog = async (db: Queryable, blogId: number, zone: string) =>
  paceOf(await turnarounds(db, blogId, zone));
