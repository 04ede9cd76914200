import type { Access } from '@keyroster/core';
import type { Reader } from '../db/connect.js';

/**
 * Posts as readers see them, those that may be read: by everyone, the one predicate that pages, feeds, search,
 * lists and sitemap share; or by signed-in staff.
 */
export function readable(db: Reader, blogId: number, audience: Access = 'everyone') {
  return db('readers_posts as posts')
    .where({ 'posts.blog_id': blogId, 'posts.stage': 'published' } as Record<string, unknown>)
    .whereIn('posts.access', audience === 'staff' ? ['everyone', 'staff'] : ['everyone']);
}
