// npm start: everything from a fresh clone to a running newsroom.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { checkNode, endWith, installPackages, root, say } from './machine.mjs';

process.on('uncaughtException', (error) => endWith(error));
checkNode();
installPackages();
const { build } = await import('./build.mjs');
const { newsroom } = await import('./newsroom.mjs');
build();
const { env, demo, port, standins, cluster } = await newsroom();

/** So many times in a row the server may end within so short a time before we give up on it. */
const MAX_CRASHES = 3;
const QUICK_MS = 10_000;
let server;
let stopping = false;
let crashes = 0;
let told = false;

/** Starts the server, and starts it again when it ends without having been asked to. */
function launch() {
  const since = Date.now();
  server = spawn(process.execPath, [join(root, 'server', 'dist', 'main.js')], {
    env,
    stdio: ['inherit', 'inherit', 'inherit', 'ipc'],
  });
  server.on('message', () => void tellOnce());
  server.on('exit', (code) => {
    crashes = Date.now() - since < QUICK_MS ? crashes + 1 : 1;
    if (stopping || code === 0 || code === 2 || crashes >= MAX_CRASHES) {
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
  say(
    `\n  The blog      ${env.PUBLIC_URL}/\n  The newsroom  ` +
      `${env.PUBLIC_URL}/desk/\n${standins ? `  The stand-ins ${standins.url}/\n` : ''}`,
  );
  if (demo) {
    const people = await fetch(`http://127.0.0.1:${port}/api/demo/people`)
      .then((answer) => answer.json())
      .catch(() => []);
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
