import type { Queryable } from './connect.js';

/** The database's clock, which is the one that counts. */
export async function databaseNow(db: Queryable): Promise<string> {
  const { rows } = await db.raw<{ rows: { now: string }[] }>('select clock_timestamp() as now');
  return rows[0]!.now;
}
