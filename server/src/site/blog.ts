import type {
  BlogChanges,
  BlogPlace,
  BlogView,
  CategoryChanges,
  CategoryView,
  NewCategory,
  FieldValues,
} from '@keyroster/contract';
import { contentWords } from '@keyroster/core';
import { saveAddition, saveChange, saveRemoval, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { notFound } from '../http/problem.js';
import { planRemeasuring } from '../jobs/queue.js';
import { blogView } from '../slots/blog-view.js';
import { mergeCategory } from './merging.js';
import { moveZone } from './zone.js';

export const changedBlog = (trx: Trx, { blogId }: Pick<CurrentPerson, 'blogId'>) => ({
  kind: 'blog' as const,
  id: blogId,
  read: async (): Promise<BlogView & BlogPlace & FieldValues> => {
    const place = (await trx('blogs').where({ id: blogId }).first<BlogPlace>('host', 'path'))!;
    return { ...(await blogView(trx, blogId)), ...place };
  },
  name: ({ title }: BlogView) => title,
});

export async function changeBlog(change: Change, changes: BlogChanges): Promise<BlogView> {
  const { trx, person } = change;
  const { title, tagline, zone, firstWeekday, checks, binDays, accepting = false } = changes;
  await saveChange(change, changedBlog(trx, person), async () => {
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
  });
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
    .returning<{ id: number }[]>('id');
  return saveAddition({ trx, person }, changedCategory(trx, person, row!.id));
}

const CATEGORY = ['id', 'name', 'slug', 'hue', 'version'] as const;

const changedCategory = (trx: Trx, { blogId }: CurrentPerson, id: number) => ({
  kind: 'category' as const,
  id,
  read: async (): Promise<CategoryView & FieldValues> => {
    const category = await trx('categories')
      .where({ blog_id: blogId, id })
      .first<CategoryView | undefined>(...CATEGORY);
    if (!category) throw notFound('That category');
    return { ...category };
  },
  name: ({ name }: CategoryView) => name,
});

/**
 * Renames or recolours; the category's page keeps its address. Or merges it into another one, which is
 * answered then.
 */
export async function changeCategory(
  change: Change,
  id: number,
  { mergeInto, ...changes }: CategoryChanges,
): Promise<CategoryView> {
  const { trx, person } = change;
  const changed = changedCategory(trx, person, id);
  if (mergeInto === undefined)
    return saveChange(change, changed, () => trx('categories').where({ id }).update(changes));
  await saveRemoval(change, changed, () => mergeCategory(trx, person, id, mergeInto));
  return changedCategory(trx, person, mergeInto).read();
}
