import type { Queryable } from '../db/connect.js';
import type { Settings } from '../settings.js';
import { decrypt } from './encrypt.js';
import { type Destination } from './transport/transport.js';
import type { OutletRow } from './outlet-row.js';

export const homeOf = async (db: Queryable, blogId: number): Promise<string> =>
  (await db('blogs').where({ id: blogId }).first<{ home: string }>('home'))!.home;

export async function addresseeOf(
  db: Queryable,
  row: OutletRow,
  settings: Pick<Settings, 'privateOutlets'>,
): Promise<Destination> {
  return {
    name: row.name,
    protocol: row.protocol,
    address: row.address,
    settings: row.settings,
    credentials: await decrypt(db, row.credentials),
    allowed: settings.privateOutlets,
    feed: `${await homeOf(db, row.blog_id)}/outlets/${row.slug}`,
  };
}
