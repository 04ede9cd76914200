import type { Queryable } from '../db/connect.js';
import { readable, type Reading } from '../access/readable.js';

export interface Month {
  /** `YYYY-MM`. */
  month: string;
  posts: number;
}

/** Months in which something was published that the reader may read, the newest first. */
export async function monthsOf(db: Queryable, blog: Reading): Promise<Month[]> {
  return countedFrom(db, blog, null);
}

/**
 * The `most` newest of these months. They are found by stepping down the index from month to month, so that the
 * posts of all earlier years are not counted for a list of twelve.
 */
export async function newestMonths(db: Queryable, blog: Reading, most: number): Promise<Month[]> {
  const newestBefore = (earlierThan: string) => {
    const posts = readable(db, blog)
      .whereNotNull('posts.run_local')
      .orderBy('posts.run_local', 'desc')
      .limit(1);
    if (earlierThan) void posts.whereRaw(`posts.run_local < ${earlierThan}`);
    return posts.select(db.raw(`date_trunc('month', posts.run_local) as month`));
  };
  const found = await db
    .withRecursive('newest', ['month'], (step) => {
      void step
        .from(newestBefore('').as('first'))
        .select('month')
        .unionAll((next) => {
          void next
            .from('newest')
            .whereNotNull('newest.month')
            .select(newestBefore('newest.month').as('month'));
        });
    })
    .from(db.from('newest').whereNotNull('month').limit(most).select('month').as('wanted'))
    .first<{ oldest: string | null }>(db.raw(`to_char(min(wanted.month), 'YYYY-MM-DD') as oldest`));
  return found.oldest ? countedFrom(db, blog, found.oldest) : [];
}

async function countedFrom(db: Queryable, blog: Reading, oldest: string | null): Promise<Month[]> {
  // Grouped as dates, which is nearly twice as quick as by their names.
  const byMonth = readable(db, blog)
    .groupByRaw(`date_trunc('month', posts.run_local)`)
    .select(db.raw(`date_trunc('month', posts.run_local) as month`), db.raw('count(*)::int as posts'))
    .as('by_month');
  if (oldest) void byMonth.where('posts.run_local', '>=', oldest);
  return db
    .from(byMonth)
    .orderBy('by_month.month', 'desc')
    .select<Month[]>(db.raw(`to_char(by_month.month, 'YYYY-MM') as month`), 'by_month.posts');
}
