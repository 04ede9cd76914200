// npm start: everything from a fresh clone to a running newsroom.
import { spawn } from 'node:child_process';
import { join, resolve } from 'node:path';
import { createServer } from 'node:net';
import { checkNode, installPackages, must, root, say } from './machine.mjs';

checkNode();
installPackages();
const { ensureDatabase, startPostgres } = await import('./postgres.mjs');
const { build, webFolder } = await import('./build.mjs');
build();

const dataDir = resolve(process.env.DATA_DIR ?? join(root, '.data'));
let cluster = null;
let databaseUrl = process.env.DATABASE_URL;
if (!databaseUrl) {
  cluster = await startPostgres(dataDir);
  databaseUrl = ensureDatabase(cluster, 'key_roster');
}

const host = process.env.HOST ?? '127.0.0.1';
const port = await portToUse(Number(process.env.PORT ?? 4300));
const demo = !['0', 'false', 'no'].includes((process.env.DEMO ?? '1').toLowerCase());
const env = {
  ...process.env, DATABASE_URL: databaseUrl, PORT: String(port), HOST: host, DEMO: demo ? '1' : '0', WEB_FOLDER: process.env.WEB_FOLDER ?? webFolder, NODE_ENV: 'production',
  PUBLIC_URL: process.env.PUBLIC_URL ?? `http://${host === '0.0.0.0' ? '127.0.0.1' : host}:${port}`, LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn',
};
if (demo) must(process.execPath, [join(root, 'demo', 'dist', 'load.js')], { env });

const server = spawn(process.execPath, [join(root, 'server', 'dist', 'main.js')], { env, stdio: ['inherit', 'inherit', 'inherit', 'ipc'] });
server.on('message', async () => {
  say(`\n  The blog      ${env.PUBLIC_URL}/\n  The newsroom  ${env.PUBLIC_URL}/desk/\n`);
  if (demo) {
    const people = await (await fetch(`http://127.0.0.1:${port}/api/demo/people`)).json().catch(() => []);
    if (people.length) {
      say('  Demo sign-ins');
      for (const p of people) say(`    ${p.role.padEnd(17)} ${p.email.padEnd(34)} ${p.password}`);
      say('');
    }
  }
  say('  Ctrl-C stops it.\n');
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill('SIGTERM'));
server.on('exit', (code) => {
  cluster?.stop();
  process.exit(code ?? 0);
});

/** The port that was asked for; when it is taken and none was asked for, the next free one. */
async function portToUse(wanted) {
  for (let port = wanted; port < wanted + 50; port++) {
    const free = await new Promise((done) => {
      const probe = createServer();
      probe.once('error', () => done(false));
      probe.listen(port, host, () => probe.close(() => done(true)));
    });
    if (free) return port;
    if (process.env.PORT) {
      console.error(`Port ${wanted} is in use. Set PORT to another.`);
      process.exit(1);
    }
  }
  throw new Error(`No free port from ${wanted} on.`);
}
