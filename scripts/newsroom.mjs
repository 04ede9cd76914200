// What a newsroom needs around its server: a database, the stand-ins, the demo, and the settings that say where
// they are. Shared by npm start and npm run dev.
import { createServer } from 'node:net';
import { join, resolve } from 'node:path';
import { memoryEnv, must, root } from './machine.mjs';
import { ensureDatabase, startPostgres } from './postgres.mjs';
import { startStandins } from './standins.mjs';
import { webFolder } from './build.mjs';

/**
 * Starts everything but the server.
 * @returns {Promise<{ env: NodeJS.ProcessEnv, demo: boolean, port: number, standins: object | null,
 *   cluster: object | null }>}
 */
export async function newsroom(settings = {}) {
  const dataDir = resolve(process.env.DATA_DIR ?? join(root, '.data'));
  let cluster = null;
  let databaseUrl = process.env.DATABASE_URL;
  if (!databaseUrl) {
    cluster = await startPostgres(dataDir);
    databaseUrl = ensureDatabase(cluster, 'key_roster');
  }

  const host = process.env.HOST ?? '127.0.0.1';
  const port = await portToUse(host, Number(process.env.PORT ?? 4300));
  const demo = !['0', 'false', 'no'].includes((process.env.DEMO ?? '1').toLowerCase());
  const env = {
    ...process.env,
    ...memoryEnv,
    DATABASE_URL: databaseUrl,
    PORT: String(port),
    HOST: host,
    DEMO: demo ? '1' : '0',
    WEB_FOLDER: process.env.WEB_FOLDER ?? webFolder,
    NODE_ENV: 'production',
    PUBLIC_URL: process.env.PUBLIC_URL ?? `http://${host === '0.0.0.0' ? '127.0.0.1' : host}:${port}`,
    LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn',
    ...settings,
  };
  // The demo's outlets are played by stand-ins; a newsroom that is in earnest has its own.
  // The server's own port is kept free for it, though nothing listens there yet.
  const standinsPort = demo ? await portToUse(host, 4390, [port]) : 0;
  const standins = demo
    ? await startStandins({
        port: standinsPort,
        smtpPort: await portToUse(host, standinsPort + 1, [port, standinsPort]),
        folder: join(dataDir, 'standins'),
        // The shop has the blog in it as its journal.
        journal: `http://${host === '0.0.0.0' ? '127.0.0.1' : host}:${port}`,
      })
    : null;
  Object.assign(
    env,
    standins && {
      ...standins.env,
      PRIVATE_OUTLETS: [process.env.PRIVATE_OUTLETS, standins.env.PRIVATE_OUTLETS].filter(Boolean).join(' '),
      PRIVATE_MENTIONS: [process.env.PRIVATE_MENTIONS, standins.env.PRIVATE_MENTIONS]
        .filter(Boolean)
        .join(' '),
    },
  );
  if (demo) must(process.execPath, [join(root, 'demo', 'dist', 'load.js')], { env });
  return { env, demo, port, standins, cluster };
}

/** The port that was asked for; when it is taken and none was asked for, the next free one. */
async function portToUse(host, wanted, taken = []) {
  for (let port = wanted; port < wanted + 50; port++) {
    if (taken.includes(port)) continue;
    const free = await new Promise((done) => {
      const probe = createServer();
      probe.once('error', () => done(false));
      probe.listen(port, host, () => probe.close(() => done(true)));
    });
    if (free) return port;
    if (taken.length === 0 && process.env.PORT)
      throw new Error(
        `Port ${wanted} is in use by another program. Stop that one, or set PORT to another port.`,
      );
  }
  throw new Error(`No free port from ${wanted} on.`);
}
