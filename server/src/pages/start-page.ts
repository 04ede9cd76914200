import { paragraphsOf } from '@keyroster/core';
import type { Page } from './cache.js';
import { framed, type Context } from './context.js';
import { staffNotes } from './staff.js';
import { readerPosts, renderPosts } from './readers.js';

/** Where newcomers begin: what the editor says to them, and the posts that were chosen. Nothing where none were. */
export async function startPage(context: Context): Promise<Page | null> {
  const { db, blog } = context;
  const { intro, posts: chosen } = blog.settings.start;
  const found = await readerPosts(db, blog, { limit: chosen.length, ids: chosen });
  if (found.length === 0) return null;
  const inOrder = chosen.flatMap((id) => found.find((p) => p.id === id) ?? []);
  return framed(context, 'start', {
    title: 'Start here',
    intro: paragraphsOf(intro),
    posts: await renderPosts(db, blog, inOrder, 'to the fold'),
    staff: await staffNotes(
      context,
      inOrder.map((p) => p.id),
    ),
    canonical: `${blog.home}/start`,
    description: `Where to begin on ${blog.title}`,
  });
}
