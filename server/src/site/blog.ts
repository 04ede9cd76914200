import type {
  BlogChanges,
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
