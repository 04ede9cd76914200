import { wallTimeOf } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { databaseNow } from '../db/now.js';

/** The blog’s own time: its zone, its first weekday, and now as its clocks show it. */
export interface BlogClock {
  zone: string;
  firstWeekday: number;
  nowLocal: string;
  today: string;
}

export async function clockOf(db: Queryable, blogId: number): Promise<BlogClock> {
  const blog = (await db('blogs')
    .where({ id: blogId })
    .first<{ zone: string; first_weekday: number }>('zone', 'first_weekday'))!;
  const nowLocal = wallTimeOf(await databaseNow(db), blog.zone);
  return { zone: blog.zone, firstWeekday: blog.first_weekday, nowLocal, today: nowLocal.slice(0, 10) };
}
