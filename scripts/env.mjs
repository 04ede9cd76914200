// The database of this checkout, for the small commands that need one.
import { join, resolve } from 'node:path';
import { root } from './machine.mjs';
import { ensureDatabase, startPostgres } from './postgres.mjs';

export async function ourDatabase() {
  if (process.env.DATABASE_URL) return { databaseUrl: process.env.DATABASE_URL, bin: '' };
  const cluster = await startPostgres(resolve(process.env.DATA_DIR ?? join(root, '.data')));
  // A cluster that these commands started themselves stops with them.
  if (!cluster.wasRunning) process.once('exit', () => cluster.stop());
  return { databaseUrl: ensureDatabase(cluster, 'key_roster'), bin: cluster.bin };
}
