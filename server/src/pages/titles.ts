import type { Queryable } from '../db/connect.js';
import { pathIn, type ReaderBlog } from './reader-blog.js';
import { readable } from '../access/readable.js';
import { spotlitPosts } from './spotlight.js';

export interface TitleLink {
  label: string;
  href: string;
  note: string;
}

interface TitleRow {
  title: string;
  slug: string;
  runLocal: string;
}

const titles = (db: Queryable, blog: ReaderBlog) =>
  readable(db, blog).select<TitleRow[]>('posts.title', 'posts.slug', 'posts.run_local as runLocal');

const linkTo = (blog: ReaderBlog, post: TitleRow): TitleLink => ({
  label: post.title,
  href: pathIn(blog, post),
  note: '',
});

export async function newestTitles(db: Queryable, blog: ReaderBlog, most: number): Promise<TitleLink[]> {
  const rows = await titles(db, blog).orderByRaw('posts.run_at desc nulls last, posts.id desc').limit(most);
  return rows.map((row) => linkTo(blog, row));
}

export async function spotlitTitles(db: Queryable, blog: ReaderBlog): Promise<TitleLink[]> {
  return (await spotlitPosts(db, blog)).map((post) => linkTo(blog, post));
}

/** Posts that are most like this one, the likest first. */
export async function relatedTitles(
  db: Queryable,
  blog: ReaderBlog,
  postId: number,
  most: number,
): Promise<TitleLink[]> {
  const rows = await titles(db, blog)
    .join('related_posts as r', 'r.other_id', 'posts.id')
    .where('r.post_id', postId)
    .orderBy('r.likeness', 'desc')
    .limit(most);
  return rows.map((row) => linkTo(blog, row));
}
