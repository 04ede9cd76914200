import type { BlogChanges, BlogView, CategoryChanges, CategoryView, NewCategory } from '@keyroster/contract';
import { contentWords, isLater, meaningOf } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { databaseNow } from '../db/now.js';
import { ProblemError, notFound } from '../http/problem.js';
import { planRemeasuring } from '../jobs/queue.js';
import { emit } from '../live/live.js';
import { blogView } from '../slots/blog-view.js';
import { editPosts } from '../posts/edit.js';
import { mergeCategory } from './merging.js';

export async function changeBlog(trx: Trx, person: CurrentPerson, changes: BlogChanges): Promise<BlogView> {
  const { title, tagline, zone, firstWeekday, checks, binDays } = changes;
  if (zone !== undefined) await moveZone(trx, person.blogId, zone);
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
  // What counts as held back has changed: cards and lists are measured anew, by a job.
  if (checks) await planRemeasuring(trx, person.blogId, { all: true });
  await emit(trx, { blogId: person.blogId, kind: 'blog', personId: person.id });
  return blogView(trx, person.blogId);
}

/**
 * Puts the blog into another zone. What is to come keeps its wall time, and so becomes another instant: 08:00 stays
 * 08:00, by the new clocks. Refused when something scheduled would be due at once.
 */
async function moveZone(trx: Trx, blogId: number, zone: string): Promise<void> {
  const { zone: before } = (await trx('blogs')
    .where({ id: blogId })
    .forNoKeyUpdate()
    .first<{ zone: string }>('zone'))!;
  if (before === zone) return;
  const now = await databaseNow(trx);
  const ids = await trx('all_posts')
    .where({ blog_id: blogId, run_zone: before })
    .whereNotIn('stage', ['published', 'withdrawn'])
    .where('run_at', '>', now)
    .orderBy('id')
    .pluck<number[]>('id');
  const there = (local: string): string => {
    const meaning = meaningOf(local, zone)!;
    return meaning.kind === 'exact' ? meaning.at : meaning.choices[0].at;
  };
  await editPosts(trx, blogId, 'clock', ids, (post) => {
    if (!post.run) return [];
    const at = there(post.run.local);
    if (post.stage === 'scheduled' && !isLater(at, now))
      throw new ProblemError(
        'bad-time',
        `“${post.title}” is scheduled, and by the clocks of ${zone} its time has passed: it would go out at once. ` +
          'Unschedule it or move it first.',
        { fields: [{ field: 'zone', sentence: 'A scheduled post would go out at once.' }] },
      );
    return [{ kind: 'set', values: { run: { ...post.run, zone, at } } }];
  });
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
