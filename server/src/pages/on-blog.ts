import type { OnBlog } from '@keyroster/contract';
import type { Delay } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';

/** Of which serial a post is a part, and what came of telling the pages that it links to. */
export async function onBlog(db: Queryable, postId: number): Promise<OnBlog> {
  const part = await db('serial_parts as p')
    .join('serials as s', 's.id', 'p.serial_id')
    .where('p.post_id', postId)
    .first<(Delay & { id: number; title: string; number: number; parts: number }) | undefined>(
      's.id',
      's.title',
      'p.days',
      'p.hours',
      'p.minutes',
      // Parts in the bin are not counted, as nowhere else.
      db.raw(`
        (
          select count(*) from serial_parts o join posts q on q.id = o.post_id
          where o.serial_id = s.id and o.position <= p.position
        )::int as number
      `),
      db.raw(`
        (
          select count(*) from serial_parts o join posts q on q.id = o.post_id where o.serial_id = s.id
        )::int as parts
      `),
    );
  const mentioned = await db('mentions_sent')
    .where({ post_id: postId })
    .orderBy('target')
    .select<OnBlog['mentioned']>('target', 'status', 'at');
  if (!part) return { serial: null, mentioned };
  const { days, hours, minutes, ...serial } = part;
  return { serial: { ...serial, delay: { days, hours, minutes } }, mentioned };
}
