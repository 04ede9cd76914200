import {
  addDays,
  fillSlots,
  isDesk,
  slotDates,
  spreadOver,
  wallTimeOf,
  type BatchChange,
  type BatchContext,
} from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { clockAndSlots } from '../slots/slots.js';

/** How far ahead a spread looks for open slots, in days. */
const SPREAD_DAYS = 366;

/** Where a spread puts posts: the open slots that are still to come, in the order of the posts. */
export async function spreadFor(
  db: Queryable,
  person: CurrentPerson,
  changes: readonly BatchChange[],
  ids: readonly number[],
  { now, zone }: Pick<BatchContext, 'now' | 'zone'>,
): Promise<Map<number, string>> {
  const spread = changes.find((c) => c.kind === 'spread');
  if (!spread) return new Map();
  const { today, slots } = await clockAndSlots(db, person.blogId);
  const from = spread.from < today ? today : spread.from;
  const dated = await db('posts')
    .where({ blog_id: person.blogId })
    .where('run_local', '>=', from)
    .whereNotIn('stage', ['pitch', 'withdrawn'])
    .whereRaw('not (id = any(?))', [[...ids]])
    .select<{ id: number; runLocal: string; categoryId: number | null }[]>(
      'id',
      'run_local as runLocal',
      'category_id as categoryId',
    );
  const open = fillSlots(slotDates(slots, from, addDays(from, SPREAD_DAYS)), dated)
    .slots.filter((s) => s.post === null)
    .map(({ slot }) => ({ local: `${slot.date}T${slot.time}:00`, categoryId: slot.categoryId }));
  const posts = await db('posts')
    .where({ blog_id: person.blogId })
    .whereRaw('id = any(?)', [[...ids]])
    .select<{ id: number; category_id: number | null }[]>('id', 'category_id');
  const category = new Map(posts.map((p) => [p.id, p.category_id]));
  const mine = ids
    .map((id) => ({ id, categoryId: category.get(id) ?? null }))
    .filter((p) => isDesk(person, p));
  return spreadOver(mine, open, wallTimeOf(now, zone));
}
