import knexFactory, { type Knex } from 'knex';
import pg from 'pg';
import { log } from '../log.js';

export type Db = Knex;
export type Trx = Knex.Transaction;
/** Either: code that only reads does not care. */
export type Queryable = Knex | Knex.Transaction;

const INT8 = 20;
const DATE = 1082;
const TIMESTAMP = 1114;
const TIMESTAMPTZ = 1184;

/**
 * `2026-11-27 12:00:00` → `2026-11-27T12:00:00`; wall times and dates never pass through a JavaScript Date.
 */
function wallTime(value: string): string {
  return value.replace(' ', 'T');
}
function instant(value: string): string {
  return new Date(value.replace(' ', 'T').replace(/([+-]\d{2})$/, '$1:00'))
    .toISOString()
    .replace('.000Z', 'Z');
}
const parsers: Record<number, (value: string) => unknown> = {
  [INT8]: Number,
  [DATE]: (v) => v,
  [TIMESTAMP]: wallTime,
  [TIMESTAMPTZ]: instant,
};

const types = {
  getTypeParser: (oid: number, format?: string) =>
    (format === 'binary' ? undefined : parsers[oid]) ?? pg.types.getTypeParser(oid, format as 'text'),
};

export function connectionOf(databaseUrl: string): pg.ClientConfig {
  // UTC sessions, so that text forms of instants are one and the same everywhere. Pages at random cost little
  // more than in a row on the drives of today, and most lie in memory. No compiling of queries:
  // ours are short, and it takes longer than they do.
  return {
    connectionString: databaseUrl,
    types: types as pg.CustomTypesConfig,
    options: '-c TimeZone=UTC -c jit=off -c random_page_cost=1.1',
    application_name: 'key-roster',
  };
}

export function connect(databaseUrl: string, size = 12): Db {
  const db = knexFactory({
    client: 'pg',
    connection: connectionOf(databaseUrl) as Knex.PgConnectionConfig,
    pool: { min: 0, max: size },
    acquireConnectionTimeout: 15_000,
  });
  // A broken idle connection is replaced by the pool; without a listener it would end the process.
  (db.client as { pool?: { on(event: string, listener: (error: Error) => void): void } }).pool?.on(
    'error',
    (error) => log.warn({ err: error }, 'database pool'),
  );
  return db;
}
