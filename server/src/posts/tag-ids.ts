import { proposeSlug, tidyTag } from '@keyroster/core';
import type { Trx } from '../db/connect.js';

/** Tags by their names; those that are new are made. Capitals make no other tag. */
export async function tagIdsOf(trx: Trx, blogId: number, names: readonly string[]): Promise<number[]> {
  const wanted = new Map(
    names
      .map(tidyTag)
      .filter(Boolean)
      .map((name) => [name.toLowerCase(), name]),
  );
  if (wanted.size === 0) return [];
  const known = await trx('tags')
    .where({ blog_id: blogId })
    .whereRaw('lower(name) = any(?)', [[...wanted.keys()]])
    .select<{ id: number; name: string }[]>('id', 'name');
  const ids = known.map((t) => t.id);
  for (const tag of known) wanted.delete(tag.name.toLowerCase());
  if (wanted.size > 0) {
    // Two people making the same tag at once: the second waits for the first to be decided.
    await trx.raw('select pg_advisory_xact_lock(4311, ?)', [blogId]);
    for (const name of wanted.values()) {
      const made = await trx('tags')
        .where({ blog_id: blogId })
        .whereRaw('lower(name) = lower(?)', [name])
        .first<{ id: number } | undefined>('id');
      ids.push(made?.id ?? (await makeTag(trx, blogId, name)));
    }
  }
  return ids;
}

async function makeTag(trx: Trx, blogId: number, name: string): Promise<number> {
  const slug = await freeSlug(trx, blogId, name);
  const [row] = await trx('tags').insert({ blog_id: blogId, name, slug }).returning<{ id: number }[]>('id');
  return row!.id;
}

async function freeSlug(trx: Trx, blogId: number, name: string): Promise<string> {
  const taken = new Set(await trx('tags').where({ blog_id: blogId }).pluck<string[]>('slug'));
  return proposeSlug(name, (slug) => taken.has(slug));
}
