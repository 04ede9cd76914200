import type { OnTop } from '@keyroster/contract';
import {
  addDays,
  daysBetween,
  spotlitOn,
  turnOn,
  turnsFrom,
  type Held,
  type SiteSettings,
} from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { clockOf } from '../slots/clock.js';
import type { ReaderBlog } from './reader-blog.js';
import { readable, type Reading } from '../access/readable.js';
import { readerPosts, type ReaderPost } from './readers.js';

/** Published posts that are held on top on a day or later. */
export async function heldFrom(db: Queryable, blog: Reading, today: string): Promise<Held[]> {
  return (await readable(db, blog)
    .whereRaw('posts.spotlight_until >= ?', [today])
    .orderBy('posts.spotlight_from')
    .select(
      'posts.id',
      'posts.title',
      'posts.spotlight_from as from',
      'posts.spotlight_until as until',
    )) as unknown as Held[];
}

/** What stands on top of the front page today, by the blog's own day, in its order. */
export async function spotlitPosts(db: Queryable, blog: ReaderBlog): Promise<ReaderPost[]> {
  const { today, firstWeekday } = await clockOf(db, blog.id);
  const ids = spotlitOn(
    today,
    await heldFrom(db, blog, today),
    blog.settings.spotlightOrder,
    turnOn(blog.settings.rotation, today, firstWeekday),
  );
  if (ids.length === 0) return [];
  const posts = await readerPosts(db, blog, { limit: ids.length, ids });
  return ids.flatMap((id) => posts.find((p) => p.id === id) ?? []);
}

/** What begins to stand on top of the front page in some days: what is held from a day on, and turns of a week. */
export async function onTopIn(db: Queryable, blogId: number, from: string, to: string): Promise<OnTop[]> {
  const { firstWeekday } = await clockOf(db, blogId);
  const { site } = (await db('blogs').where({ id: blogId }).first<{ site: Partial<SiteSettings> }>('site'))!;
  const held = (await heldFrom(db, { id: blogId }, from)).filter((h) => h.from >= from && h.from <= to);
  const weeks = Math.ceil((daysBetween(from, to) + 1) / 7);
  const turns = turnsFrom(site.rotation ?? null, from, firstWeekday, weeks);
  const titles = new Map(
    (
      await readable(db, { id: blogId })
        .whereIn(
          'posts.id',
          turns.map((t) => t.postId),
        )
        .select<{ id: number; title: string }[]>('posts.id', 'posts.title')
    ).map((p) => [p.id, p.title]),
  );
  return [
    ...held.map((h) => ({ date: h.from, postId: h.id, title: h.title, until: h.until })),
    ...turns.flatMap(({ start, postId }) => {
      const title = titles.get(postId);
      return title === undefined ? [] : [{ date: start, postId, title, until: addDays(start, 6) }];
    }),
  ];
}
