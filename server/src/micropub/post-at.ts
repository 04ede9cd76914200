import type { Reader } from '../db/connect.js';

/** The address by which a writing tool knows a post, in whatever stage it is. */
export const addressOf = (publicUrl: string, postId: number): string => `${publicUrl}/desk/posts/${postId}`;

/** Which post an address means: that of the desk, or the one at which readers find it. In the bin or not. */
export async function postAt(
  db: Reader,
  blogId: number,
  publicUrl: string,
  url: string,
): Promise<{ id: number; binned: boolean } | null> {
  if (!url.startsWith(`${publicUrl}/`)) return null;
  const path = url.slice(publicUrl.length + 1).replace(/[?#].*$/s, '');
  const id = /^desk\/posts\/(\d{1,9})(?:\/|$)/.exec(path)?.[1];
  const slug = /^[a-z0-9][a-z0-9-]{0,199}$/.exec(path)?.[0];
  if (id === undefined && slug === undefined) return null;
  const row = await db('all_posts')
    .where({ blog_id: blogId, ...(id === undefined ? { slug } : { id: Number(id) }) })
    .first<{ id: number; binned_at: string | null } | undefined>('id', 'binned_at');
  return row ? { id: row.id, binned: row.binned_at !== null } : null;
}
