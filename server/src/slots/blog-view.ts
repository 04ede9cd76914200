import type { BlogView, CategoryView } from '@keyroster/contract';
import { USUAL_SITE, type SiteSettings } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { slotsOf } from './slots.js';

export async function blogView(db: Queryable, blogId: number): Promise<BlogView> {
  const blog = (await db('blogs').where({ id: blogId }).first<
    Omit<BlogView, 'categories' | 'slots' | 'addressPattern' | 'commentRules'> & {
      site: Partial<SiteSettings>;
    }
  >('id', 'version', 'title', 'tagline', 'zone', 'first_weekday as firstWeekday', 'checks', 'bin_days as binDays', 'home', 'site'))!;
  const categories = await db('categories')
    .where({ blog_id: blogId })
    .orderBy('id')
    .select<CategoryView[]>('id', 'name', 'slug', 'hue', 'version');
  const { site, ...plain } = blog;
  const addressPattern = site.addressPattern ?? USUAL_SITE.addressPattern;
  const commentRules = {
    comments: site.comments ?? USUAL_SITE.comments,
    commentsCloseDays: site.commentsCloseDays ?? USUAL_SITE.commentsCloseDays,
  };
  return { ...plain, addressPattern, commentRules, categories, slots: await slotsOf(db, blogId) };
}
