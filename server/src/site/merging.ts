import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { storeOldPage } from '../pages/old-pages.js';
import { editPosts } from '../posts/edit.js';
import { lockPosts } from '../posts/store.js';

const filedPosts = (trx: Trx, blogId: number, categoryId: number): Promise<number[]> =>
  trx('all_posts')
    .where({ blog_id: blogId })
    .where((w) => w.where({ category_id: categoryId }).orWhere({ second_category_id: categoryId }))
    .orderBy('id')
    .pluck<number[]>('id');

/**
 * Puts everything of a category under another one: posts, standing slots, editors' categories. Then it is
 * gone, and its page leads to the other's.
 */
export async function mergeCategory(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  into: number,
): Promise<void> {
  if (into === id) throw new ProblemError('invalid', 'A category cannot be merged into itself.');
  // First the posts and then the category: the order in which filing locks them.
  await lockPosts(trx, await filedPosts(trx, person.blogId, id));
  const from = await trx('categories')
    .where({ blog_id: person.blogId, id })
    .forUpdate()
    .first<{ id: number; slug: string } | undefined>('id', 'slug');
  if (!from) throw notFound('That category');
  if (!(await trx('categories').where({ blog_id: person.blogId, id: into }).first('id')))
    throw notFound('The category to merge into');
  const merged = (category: number | null) => (category === id ? into : category);
  await editPosts(
    trx,
    person.blogId,
    person,
    await filedPosts(trx, person.blogId, id),
    ({ categoryId, secondCategoryId }) => {
      const [first, second] = [merged(categoryId), merged(secondCategoryId)];
      const values = { categoryId: first, secondCategoryId: second === first ? null : second };
      return [{ kind: 'set', values }];
    },
    { inBin: true, atOnce: true },
  );
  await trx('slots').where({ blog_id: person.blogId, category_id: id }).update({ category_id: into });
  for (const table of ['editor_categories', 'writer_categories'])
    await trx.raw(
      `
        insert into
          ?? (blog_id, person_id, category_id)
        select
          blog_id,
          person_id,
          ?
        from
          ??
        where
          blog_id = ?
          and category_id = ?
        on conflict do nothing
      `,
      [table, into, table, person.blogId, id],
    );
  await trx.raw(
    `
      insert into
        checklist_categories (blog_id, checklist_id, category_id)
      select
        blog_id,
        checklist_id,
        ?
      from
        checklist_categories
      where
        blog_id = ?
        and category_id = ?
      on conflict do nothing
    `,
    [into, person.blogId, id],
  );
  await storeOldPage(trx, person.blogId, 'category', from, into);
  await trx('categories').where({ id }).delete();
}
