import type { BatchNames } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';

interface Named {
  id: number;
  name: string;
}

/** Names for the numbers in a batch; `pictures` are those whose weight is told. */
export async function batchNames(
  db: Queryable,
  blogId: number,
  pictures: readonly number[] = [],
): Promise<BatchNames> {
  const people = await db('people as p')
    .join('memberships as m', 'm.person_id', 'p.id')
    .where('m.blog_id', blogId)
    .select<Named[]>('p.id', 'p.name');
  const categories = await db('categories').where({ blog_id: blogId }).select<Named[]>('id', 'name');
  const tags = await db('tags').where({ blog_id: blogId }).select<Named[]>('id', 'name');
  const sizes =
    pictures.length === 0
      ? []
      : await db('media')
          .where({ blog_id: blogId })
          .whereRaw('id = any(?)', [[...pictures]])
          .select<{ id: number; size: number }[]>('id', 'size');
  const byId = (rows: readonly Named[]) => new Map(rows.map((r) => [r.id, r.name]));
  return {
    people: byId(people),
    categories: byId(categories),
    tags: byId(tags),
    bytes: new Map(sizes.map((m) => [m.id, m.size])),
  };
}
