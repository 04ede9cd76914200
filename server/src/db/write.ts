import { setTimeout as pause } from 'node:timers/promises';
import type { Db, Trx } from './connect.js';

/** How often a transaction is tried that PostgreSQL ends since two waited for one another. */
const TRIES = 4;
const PAUSE_MS = 40;
/** PostgreSQL's deadlock_detected and serialization_failure: nothing of it was written, and a second try will do. */
const TRY_AGAIN = new Set(['40P01', '40001']);

/**
 * Does work in one transaction: all of it or nothing. A deadlock is retried, so
 * work does nothing outside the database. Throws what the work throws.
 */
export async function inTransaction<T>(db: Db, work: (trx: Trx) => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++)
    try {
      return await db.transaction(work);
    } catch (error) {
      if (tries === TRIES || !TRY_AGAIN.has((error as { code?: string }).code ?? '')) throw error;
      await pause(PAUSE_MS * tries * (0.5 + Math.random()));
    }
}
