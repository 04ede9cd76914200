import type { PersonRef } from '@keyroster/contract';
import { personRef } from '../accounts/people.js';
import type { Queryable } from '../db/connect.js';

/** Who says that they have a post open has it open for so long, unless they say so again or leave. */
export const OPEN_FOR = '90 seconds';

/** Somebody has a post open. */
export async function openPost(db: Queryable, postId: number, personId: number): Promise<void> {
  await db('open_posts')
    .insert({ post_id: postId, person_id: personId })
    .onConflict(['post_id', 'person_id'])
    .merge({ seen_at: db.raw('now()') });
}
export async function leavePost(db: Queryable, postId: number, personId: number): Promise<void> {
  await db('open_posts').where({ post_id: postId, person_id: personId }).delete();
}

/** Who else has some posts open. */
export async function othersIn(
  db: Queryable,
  postIds: readonly number[],
  personId: number,
): Promise<{ postId: number; person: PersonRef }[]> {
  const rows = await db('open_posts as o')
    .join('people as p', 'p.id', 'o.person_id')
    .whereRaw('o.post_id = any(?)', [[...postIds]])
    .whereNot('o.person_id', personId)
    .whereRaw(`o.seen_at > now() - interval '${OPEN_FOR}'`)
    .orderBy('p.name')
    .select<{ post_id: number; id: number; name: string }[]>('o.post_id', 'p.id', 'p.name');
  return rows.map(({ post_id, ...person }) => ({ postId: post_id, person: personRef(person) }));
}
