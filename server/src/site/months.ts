import { formatMonth } from '@keyroster/core';
import type { Reader } from '../db/connect.js';
import type { Page } from './cache.js';
import { framed, type Context } from './context.js';
import { readable, type Reading } from '../access/readable.js';

/** Months in which something was published that the reader may read, the newest first. */
export async function monthsOf(db: Reader, blog: Reading): Promise<{ month: string; posts: number }[]> {
  // Grouped as dates, which is nearly twice as quick as by their names.
  const byMonth = readable(db, blog)
    .groupByRaw(`date_trunc('month', posts.run_local)`)
    .select(db.raw(`date_trunc('month', posts.run_local) as month`), db.raw('count(*)::int as posts'))
    .as('by_month');
  return db
    .from(byMonth)
    .orderBy('by_month.month', 'desc')
    .select<{ month: string; posts: number }[]>(
      db.raw(`to_char(by_month.month, 'YYYY-MM') as month`),
      'by_month.posts',
    );
}

/** All months by year. */
export async function archivePage(context: Context): Promise<Page> {
  const { db, blog } = context;
  const years = new Map<string, { label: string; href: string; posts: number }[]>();
  for (const { month, posts } of await monthsOf(db, blog)) {
    const year = month.slice(0, 4);
    const link = { label: formatMonth(month), href: `${blog.prefix}/${month.replace('-', '/')}`, posts };
    years.set(year, [...(years.get(year) ?? []), link]);
  }
  return framed(context, 'archive', {
    title: 'All months',
    years: [...years].map(([year, months]) => ({
      year,
      months,
      posts: months.reduce((sum, m) => sum + m.posts, 0),
    })),
    canonical: `${blog.home}/archive`,
    description: `Everything on ${blog.title}, month by month`,
    noindex: true,
  });
}
