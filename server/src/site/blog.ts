import type { BlogChanges, BlogView, CategoryChanges, CategoryView, NewCategory } from '@keyroster/contract';
import { contentWords } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { notFound } from '../http/problem.js';
import { planRemeasuring } from '../jobs/queue.js';
import { emit } from '../live/live.js';
import { blogView } from '../slots/blog-view.js';
import { mergeCategory } from './merging.js';
import { moveZone } from './zone.js';

export async function changeBlog(trx: Trx, person: CurrentPerson, changes: BlogChanges): Promise<BlogView> {
  const { title, tagline, zone, firstWeekday, checks, binDays, accepting = false } = changes;
  if (zone !== undefined) await moveZone(trx, person.blogId, zone, accepting);
  await trx('blogs')
    .where({ id: person.blogId })
    .update({
      ...(title === undefined ? {} : { title }),
      ...(tagline === undefined ? {} : { tagline }),
      ...(zone === undefined ? {} : { zone }),
      ...(firstWeekday === undefined ? {} : { first_weekday: firstWeekday }),
      ...(checks === undefined ? {} : { checks: trx.raw('checks || ?::jsonb', [JSON.stringify(checks)]) }),
      ...(binDays === undefined ? {} : { bin_days: binDays }),
    });
  // What counts as held back has changed: cards and lists are measured again, by a job.
  if (checks) await planRemeasuring(trx, person.blogId, { all: true });
  await emit(trx, { blogId: person.blogId, kind: 'blog', personId: person.id });
  return blogView(trx, person.blogId);
}

export async function addCategory(
  trx: Trx,
  person: CurrentPerson,
  input: NewCategory,
): Promise<CategoryView> {
  const slug = contentWords(input.name, 6).join('-') || `category-${input.hue}`;
  const [row] = await trx('categories')
    .insert({ blog_id: person.blogId, name: input.name, hue: input.hue, slug })
    .returning<CategoryView[]>(['id', 'name', 'slug', 'hue']);
  await emit(trx, { blogId: person.blogId, kind: 'blog', personId: person.id });
  return row!;
}

/**
 * Renames or recolours; the category's page keeps its address. Or merges it into another one, which is
 * answered then.
 */
export async function changeCategory(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  { mergeInto, ...changes }: CategoryChanges,
): Promise<CategoryView> {
  if (mergeInto !== undefined) {
    await mergeCategory(trx, person, id, mergeInto);
    await emit(trx, { blogId: person.blogId, kind: 'blog', personId: person.id });
    return (await trx('categories')
      .where({ id: mergeInto })
      .first<CategoryView>('id', 'name', 'slug', 'hue'))!;
  }
  const [row] = await trx('categories')
    .where({ blog_id: person.blogId, id })
    .update(changes)
    .returning<CategoryView[]>(['id', 'name', 'slug', 'hue']);
  if (!row) throw notFound('That category');
  await emit(trx, { blogId: person.blogId, kind: 'blog', personId: person.id });
  return row;
}
