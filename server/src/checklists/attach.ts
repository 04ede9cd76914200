import type { EffectOn } from '../posts/effects.js';
import type { Queryable, Trx } from '../db/connect.js';

/** A post has its checklists from its commission until it is scheduled: then nothing more is added by itself. */
const UNDER_WAY = ['commissioned', 'drafting', 'in review', 'cleared'];

export const postsUnderWay = (db: Queryable, blogId: number): Promise<number[]> =>
  db('posts').where({ blog_id: blogId }).whereIn('stage', UNDER_WAY).pluck<number[]>('id');

/**
 * Gives posts the chores of the checklists for their format and categories, and takes away what came so and is for
 * them no more, unless it is done. Set by set, however many posts.
 */
export async function attachTo(trx: Trx, blogId: number, postIds: readonly number[]): Promise<void> {
  if (postIds.length === 0) return;
  // Which checklists are for which posts.
  const wanted = `
    select
      p.id as post_id,
      c.id as checklist_id
    from
      posts p
      join checklists c on c.blog_id = p.blog_id
    where
      p.blog_id = :blogId
      and p.id = any (:postIds)
      and (
        exists (
          select
            1
          from
            checklist_formats f
          where
            f.checklist_id = c.id
            and f.format_id = p.format_id
        )
        or exists (
          select
            1
          from
            checklist_categories g
          where
            g.checklist_id = c.id
            and g.category_id in (p.category_id, p.second_category_id)
        )
      )
  `;
  const values = { blogId, postIds: [...postIds], stages: UNDER_WAY };
  await trx.raw(
    `
      delete from chores ch
      where
        ch.blog_id = :blogId
        and ch.post_id = any (:postIds)
        and not ch.by_hand
        and ch.done_at is null
        and not exists (
          select
            1
          from
            (${wanted}) w
          where
            w.post_id = ch.post_id
            and w.checklist_id = ch.checklist_id
        )
    `,
    values,
  );
  await trx.raw(
    `
      insert into
        chores (
          blog_id,
          post_id,
          checklist_id,
          item_id,
          by_hand,
          text,
          assignee,
          person_id,
          days_before,
          holds
        )
      select
        :blogId,
        w.post_id,
        w.checklist_id,
        i.id,
        false,
        i.text,
        i.assignee,
        i.person_id,
        i.days_before,
        i.holds
      from
        (${wanted}) w
        join posts p on p.id = w.post_id
        and p.stage = any (:stages)
        join checklist_items i on i.checklist_id = w.checklist_id
      on conflict (post_id, item_id) do nothing
    `,
    values,
  );
}

/** Keeps the checklists of posts in step when they are commissioned, or get another format or category. */
export async function followChecklists(
  trx: Trx,
  effects: readonly EffectOn<'moved' | 'checks'>[],
): Promise<void> {
  const byBlog = new Map<number, Set<number>>();
  for (const { on } of effects) {
    const relevant =
      on.changed.some((f) => f === 'formatId' || f === 'categoryId' || f === 'secondCategoryId') ||
      (on.changed.includes('stage') && on.after.stage === 'commissioned');
    if (!relevant || !UNDER_WAY.includes(on.after.stage)) continue;
    byBlog.set(on.blogId, (byBlog.get(on.blogId) ?? new Set()).add(on.after.id));
  }
  for (const [blogId, ids] of byBlog) await attachTo(trx, blogId, [...ids]);
}
