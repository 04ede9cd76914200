import { RateLimiterPostgres } from 'rate-limiter-flexible';
import type pg from 'pg';

/** Wrong tries are forgotten after so long. */
const WINDOW_SECONDS = 15 * 60;

/** Counts tries of one kind in PostgreSQL, so that several processes count together. */
export const countTries = (pool: pg.Pool, keyPrefix: string, points: number): Promise<RateLimiterPostgres> =>
  new Promise((resolve, reject) => {
    const made: RateLimiterPostgres = new RateLimiterPostgres(
      {
        storeClient: pool,
        storeType: 'pool',
        tableName: 'sign_in_failures',
        keyPrefix,
        points,
        duration: WINDOW_SECONDS,
      },
      (error?: Error) => (error ? reject(error) : resolve(made)),
    );
  });
