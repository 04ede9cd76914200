import type { BlogChanges, BlogView, CategoryChanges, CategoryView, NewCategory } from '@keyroster/contract';
import { telling } from '@keyroster/core';
import type { CurrentPerson } from '../accounts/who.js';
import type { Reader, Trx } from '../db/connect.js';
import { notFound } from '../http/problem.js';
import { planMeasuring } from '../jobs/queue.js';
import { tell } from '../live/live.js';
import { slotsOf } from '../planner/slots.js';
import { mergeCategory } from './merging.js';

export async function blogView(db: Reader, blogId: number): Promise<BlogView> {
  const blog = (await db('blogs').where({ id: blogId }).first<Omit<BlogView, 'categories' | 'slots'>>('id', 'title', 'tagline', 'zone', 'first_weekday as firstWeekday', 'checks', 'title_aim as titleAim', 'bin_days as binDays'))!;
  const categories = await db('categories').where({ blog_id: blogId }).orderBy('id').select<CategoryView[]>('id', 'name', 'slug', 'hue');
  return { ...blog, categories, slots: await slotsOf(db, blogId) };
}

export async function changeBlog(trx: Trx, person: CurrentPerson, changes: BlogChanges): Promise<BlogView> {
  const { title, tagline, firstWeekday, checks, titleAim, binDays } = changes;
  await trx('blogs').where({ id: person.blogId }).update({
    ...(title === undefined ? {} : { title }), ...(tagline === undefined ? {} : { tagline }), ...(firstWeekday === undefined ? {} : { first_weekday: firstWeekday }),
    ...(checks === undefined ? {} : { checks: trx.raw('checks || ?::jsonb', [JSON.stringify(checks)]) }), ...(titleAim === undefined ? {} : { title_aim: titleAim }), ...(binDays === undefined ? {} : { bin_days: binDays }),
  });
  // What counts as held back has changed: cards and lists are measured anew.
  if (checks) for (const id of await trx('posts').where({ blog_id: person.blogId }).whereNotIn('stage', ['published', 'withdrawn']).pluck<number[]>('id')) await planMeasuring(trx, id);
  await tell(trx, { blogId: person.blogId, kind: 'blog', personId: person.id });
  return blogView(trx, person.blogId);
}

export async function addCategory(trx: Trx, person: CurrentPerson, input: NewCategory): Promise<CategoryView> {
  const slug = telling(input.name, 6).join('-') || `category-${input.hue}`;
  const [row] = await trx('categories').insert({ blog_id: person.blogId, name: input.name, hue: input.hue, slug }).returning<CategoryView[]>(['id', 'name', 'slug', 'hue']);
  await tell(trx, { blogId: person.blogId, kind: 'blog', personId: person.id });
  return row!;
}

/** Renames or recolours; the category's page keeps its address. Or merges it into another one, which is answered then. */
export async function changeCategory(trx: Trx, person: CurrentPerson, id: number, { mergeInto, ...changes }: CategoryChanges): Promise<CategoryView> {
  if (mergeInto !== undefined) {
    await mergeCategory(trx, person, id, mergeInto);
    await tell(trx, { blogId: person.blogId, kind: 'blog', personId: person.id });
    return (await trx('categories').where({ id: mergeInto }).first<CategoryView>('id', 'name', 'slug', 'hue'))!;
  }
  const [row] = await trx('categories').where({ blog_id: person.blogId, id }).update(changes).returning<CategoryView[]>(['id', 'name', 'slug', 'hue']);
  if (!row) throw notFound('That category');
  await tell(trx, { blogId: person.blogId, kind: 'blog', personId: person.id });
  return row;
}
