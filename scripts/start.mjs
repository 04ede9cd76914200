// npm start: everything from a fresh clone to a running newsroom.
import { spawn } from 'node:child_process';
import { join, resolve } from 'node:path';
import { createServer } from 'node:net';
import { checkNode, installPackages, must, root, say } from './machine.mjs';

checkNode();
installPackages();
const { ensureDatabase, startPostgres } = await import('./postgres.mjs');
const { build, webFolder } = await import('./build.mjs');
const { startStandins } = await import('./standins.mjs');
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
// The demo's outlets are played by stand-ins; a newsroom that is in earnest has its own.
const standinsPort = demo ? await portToUse(4390) : 0;
const standins = demo ? await startStandins({ port: standinsPort, smtpPort: await portToUse(standinsPort + 1), folder: join(dataDir, 'standins') }) : null;
Object.assign(env, standins && { ...standins.env, PRIVATE_OUTLETS: [process.env.PRIVATE_OUTLETS, standins.env.PRIVATE_OUTLETS].filter(Boolean).join(' ') });
if (demo) must(process.execPath, [join(root, 'demo', 'dist', 'load.js')], { env });

/** So many times in a row the server may end within so short a time before we give up on it. */
const MOST_CRASHES = 3;
const QUICK_MS = 10_000;
let server;
let stopping = false;
let crashes = 0;
let told = false;

/** Starts the server, and starts it again when it ends without having been asked to. */
function launch() {
  const since = Date.now();
  server = spawn(process.execPath, [join(root, 'server', 'dist', 'main.js')], { env, stdio: ['inherit', 'inherit', 'inherit', 'ipc'] });
  server.on('message', () => void tellOnce());
  server.on('exit', (code) => {
    crashes = Date.now() - since < QUICK_MS ? crashes + 1 : 1;
    if (stopping || code === 0 || crashes >= MOST_CRASHES) {
      void standins?.stop();
      cluster?.stop();
      process.exit(stopping ? 0 : (code ?? 1));
    }
    say('  The server ended unexpectedly; it is started again.');
    setTimeout(launch, 500);
  });
}

async function tellOnce() {
  if (told) return;
  told = true;
  say(`\n  The blog      ${env.PUBLIC_URL}/\n  The newsroom  ${env.PUBLIC_URL}/desk/\n${standins ? `  The stand-ins ${standins.url}/\n` : ''}`);
  if (demo) {
    const people = await fetch(`http://127.0.0.1:${port}/api/demo/people`).then((answer) => answer.json()).catch(() => []);
    if (people.length) {
      say('  Demo sign-ins');
      for (const p of people) say(`    ${p.role.padEnd(17)} ${p.email.padEnd(34)} ${p.password}`);
      say('');
    }
  }
  say('  Ctrl-C stops it.\n');
}

launch();
for (const signal of ['SIGINT', 'SIGTERM']) {
  process.on(signal, () => {
    stopping = true;
    server.kill('SIGTERM');
  });
}

/** The port that was asked for; when it is taken and none was asked for, the next free one. */
async function portToUse(wanted) {
  for (let port = wanted; port < wanted + 50; port++) {
    const free = await new Promise((done) => {
      const probe = createServer();
      probe.once('error', () => done(false));
      probe.listen(port, host, () => probe.close(() => done(true)));
    });
    if (free) return port;
    if (process.env.PORT && wanted === Number(process.env.PORT)) {
      console.error(`Port ${wanted} is in use. Set PORT to another.`);
      process.exit(1);
    }
  }
  throw new Error(`No free port from ${wanted} on.`);
}
