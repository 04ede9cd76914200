import type { Db } from './connect.js';

/** Rows of a large query that are fetched together. */
const BATCH = 200;

/**
 * The rows of a query a batch at a time, through a cursor of PostgreSQL, so that however many there are, neither they nor
 * what is made of them are in memory at once. The connection is held until the last is fetched, or the caller stops.
 */
export async function* rowBatches<T>(
  db: Db,
  sql: string,
  values: readonly unknown[] = [],
): AsyncGenerator<T[]> {
  // Nothing is written, and what was sent to a reader cannot be sent again: it is not for a retry.
  // eslint-disable-next-line no-restricted-syntax
  const trx = await db.transaction(undefined, { readOnly: true });
  try {
    await trx.raw(`declare batches no scroll cursor for ${sql}`, values as never[]);
    for (;;) {
      const { rows } = await trx.raw<{ rows: T[] }>(`fetch ${BATCH} from batches`);
      if (rows.length > 0) yield rows;
      if (rows.length < BATCH) return;
    }
  } finally {
    await trx.rollback();
  }
}
