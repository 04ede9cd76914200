// A newsroom for tests in a browser: the built application with the demo, a database and outlets of its own.
import { spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { webFolder } from './build.mjs';
import { memoryEnv, root, running } from './machine.mjs';
import { ensureDatabase, freePort, psql } from './postgres.mjs';
import { startStandins } from './standins.mjs';

/** Starts the newsroom of this number. */
export async function browserSite(cluster, index) {
  const database = `kr_browser_${index + 1}`;
  psql(cluster, 'postgres', `drop database if exists ${database} with (force)`);
  const port = await freePort();
  const folder = join(root, '.data', `test-standins-${index + 1}`);
  rmSync(folder, { recursive: true, force: true });
  const standins = await startStandins({ folder, journal: `http://127.0.0.1:${port}` });
  const env = {
    ...process.env,
    ...memoryEnv,
    ...standins.env,
    DATABASE_URL: ensureDatabase(cluster, database),
    PORT: String(port),
    HOST: '127.0.0.1',
    DEMO: '1',
    WEB_FOLDER: webFolder,
    LOG_LEVEL: 'warn',
    PUBLIC_URL: `http://127.0.0.1:${port}`,
  };
  if ((await running(process.execPath, [join(root, 'demo', 'dist', 'load.js')], { env })) !== 0)
    throw new Error('The demo could not be loaded.');
  const server = spawn(process.execPath, [join(root, 'server', 'dist', 'main.js')], {
    env,
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  await new Promise((done, fail) => {
    server.once('message', done);
    server.once('exit', () => fail(new Error('The server did not start.')));
  });
  const ended = new Promise((done) => server.once('exit', done));
  return {
    url: env.PUBLIC_URL,
    env,
    standins: standins.url,
    stop: async () => {
      server.kill('SIGTERM');
      await Promise.all([ended, standins.stop()]);
    },
  };
}
