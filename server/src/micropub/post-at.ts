import type { Queryable } from '../db/connect.js';
import { placesOf } from '../posts/url.js';

/** The address by which a writing tool knows a post, in whatever stage it is. */
export const addressOf = (publicUrl: string, postId: number): string => `${publicUrl}/desk/posts/${postId}`;

/** Which post an address means: that of the desk, or the one at which readers find it. In the bin or not. */
export async function postAt(
  db: Queryable,
  blogId: number,
  publicUrl: string,
  url: string,
): Promise<{ id: number; binned: boolean } | null> {
  const { home } = await placesOf(db, blogId);
  const under = (base: string) =>
    url.startsWith(`${base}/`) ? url.slice(base.length + 1).replace(/[?#].*$/s, '') : '';
  const id = /^desk\/posts\/(\d{1,9})(?:\/|$)/.exec(under(publicUrl))?.[1];
  const slug = /^(?:\d{4}\/\d\d\/)?([a-z0-9][a-z0-9-]{0,199})$/.exec(under(home))?.[1];
  if (id === undefined && slug === undefined) return null;
  const row = await db('all_posts')
    .where({ blog_id: blogId, ...(id === undefined ? { slug } : { id: Number(id) }) })
    .first<{ id: number; binned_at: string | null } | undefined>('id', 'binned_at');
  return row ? { id: row.id, binned: row.binned_at !== null } : null;
}
