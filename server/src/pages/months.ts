import { formatMonth } from '@keyroster/core';
import type { Page } from './cache.js';
import { framed, type Context } from './context.js';
import { monthsOf } from './month-counts.js';

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
