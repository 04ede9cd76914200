import type { Queryable } from '../db/connect.js';
import { readable } from '../access/readable.js';
import { pathIn, type ReaderBlog } from './reader-blog.js';
import type { TitleLink } from './titles.js';

/** Where a post stands in its serial, as far as this reader has come. */
export interface SerialPlace {
  title: string;
  intro: string;
  /** Which part it is, from one on. */
  number: number;
  parts: (TitleLink & { isThis: boolean })[];
  /** More is yet to come to them. */
  more: boolean;
}

export async function serialPlace(
  db: Queryable,
  blog: ReaderBlog,
  postId: number,
): Promise<SerialPlace | null> {
  const serial = await db('serials as s')
    .join('serial_parts as p', 'p.serial_id', 's.id')
    .where('p.post_id', postId)
    .first<{ id: number; title: string; intro: string } | undefined>('s.id', 's.title', 's.intro');
  if (!serial) return null;
  const parts = await readable(db, blog)
    .join('serial_parts as sp', 'sp.post_id', 'posts.id')
    .where('sp.serial_id', serial.id)
    .orderBy('sp.position')
    .select<{ id: number; title: string; slug: string; runLocal: string }[]>(
      'posts.id',
      'posts.title',
      'posts.slug',
      'posts.run_local as runLocal',
    );
  const [{ count } = { count: '0' }] = await db('serial_parts as sp')
    .join('posts as p', 'p.id', 'sp.post_id')
    .where({ 'sp.serial_id': serial.id, 'p.stage': 'published' })
    .count<{ count: string }[]>('p.id as count');
  return {
    title: serial.title,
    intro: serial.intro,
    number: parts.findIndex((p) => p.id === postId) + 1,
    parts: parts.map((p) => ({ label: p.title, href: pathIn(blog, p), note: '', isThis: p.id === postId })),
    more: Number(count) > parts.length,
  };
}
