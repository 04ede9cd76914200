import { mayRead, type Access } from '@keyroster/core';
import { DELAYED_PARTS } from '../access/readable.js';
import type { Page } from './cache.js';
import { framed, type Context } from './context.js';

/** What to say to who tried a password in vain. */
export type Refused = 'wrong' | 'too many';

/**
 * Where a post stands that this reader may not read by what they bring: says what to bring, and nothing of the post
 * itself, not even its title. Null where there is none, or where nothing that they could bring would open it yet.
 */
export async function gatePage(
  context: Context,
  slug: string,
  path: string | null,
  refused: Refused | null = null,
): Promise<Page | null> {
  const { db, blog } = context;
  const post = await db('readers_posts as p')
    .where({ 'p.blog_id': blog.id, 'p.slug': slug, 'p.stage': 'published' })
    .whereIn('p.access', ['members', 'password'])
    .first<{ id: number; access: Access; delayed: boolean } | undefined>(
      'p.id',
      'p.access',
      db.raw(`p.id in (${DELAYED_PARTS}) as delayed`),
    );
  if (!post) return null;
  // A part that is not due for them is as if it were not there.
  const withheld = blog.rights ? blog.rights.withheld.includes(post.id) : post.delayed;
  const rights = { staff: false, member: true, opened: [post.id], withheld: withheld ? [post.id] : [] };
  if (!mayRead(rights, { id: post.id, stage: 'published', access: post.access })) return null;
  const back = path ?? `/${slug}`;
  return framed(context, 'gate', {
    title: post.access === 'members' ? 'For members' : 'With a password',
    postId: post.id,
    access: post.access,
    back,
    refused,
    noindex: true,
    status: 403,
    tags: [`post:${post.id}`, 'lists'],
  });
}
