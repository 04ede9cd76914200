import type { BlogView, CategoryView } from '@keyroster/contract';
import type { Reader } from '../db/connect.js';
import { slotsOf } from './slots.js';

export async function blogView(db: Reader, blogId: number): Promise<BlogView> {
  const blog = (await db('blogs')
    .where({ id: blogId })
    .first<Omit<BlogView, 'categories' | 'slots'>>(
      'id',
      'title',
      'tagline',
      'zone',
      'first_weekday as firstWeekday',
      'checks',
      'bin_days as binDays',
    ))!;
  const categories = await db('categories')
    .where({ blog_id: blogId })
    .orderBy('id')
    .select<CategoryView[]>('id', 'name', 'slug', 'hue');
  return { ...blog, categories, slots: await slotsOf(db, blogId) };
}
