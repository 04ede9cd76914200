import { proposeAddress } from '@keyroster/core';
import type { Trx } from '../db/connect.js';
import type { PostRow } from './store.js';

/** The web address a post gets when it is cleared or scheduled without one: telling words of its title, not yet taken. */
export async function addressFor(trx: Trx, row: PostRow): Promise<string> {
  // Two posts getting the same address at once: the second waits for the first to be decided.
  await trx.raw('select pg_advisory_xact_lock(4310, ?)', [row.blog_id]);
  const category = row.category_id ? await trx('categories').where({ id: row.category_id }).first<{ name: string }>('name') : null;
  const first = proposeAddress(row.title, () => false).split('-')[0]!;
  const taken = new Set(await trx('all_posts').where({ blog_id: row.blog_id }).whereNot({ id: row.id }).where('address', 'like', `${first}%`).pluck<string[]>('address').unionAll((q) => q.from('old_addresses').where({ blog_id: row.blog_id }).whereNot({ post_id: row.id }).where('address', 'like', `${first}%`).select('address')));
  return proposeAddress(row.title, (address) => taken.has(address), [category?.name ?? '', (row.run_local ?? '').slice(0, 4)].filter(Boolean));
}
