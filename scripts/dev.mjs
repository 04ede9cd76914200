// npm run dev: the newsroom with the demo; what changes is built and what it belongs to started again. Reload the
// browser to see it.
import { spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { checkNode, installPackages, root, say } from './machine.mjs';

checkNode();
installPackages();
const { build } = await import('./build.mjs');
const { newsroom } = await import('./newsroom.mjs');
build();
const { env, port, standins, cluster } = await newsroom({ NODE_ENV: 'development' });

// What is built from here on is for this run only.
rmSync(join(root, 'web', 'dist', '.built-from'), { force: true });

const children = [
  // The workspaces: TypeScript builds only what a change reaches.
  spawn('npx', ['--no-install', 'tsc', '-b', '--watch', '--preserveWatchOutput'], {
    cwd: root,
    stdio: 'inherit',
  }),
  // The newsroom in the browser.
  spawn('npx', ['--no-install', 'ng', 'build', '--watch', '--configuration', 'development'], {
    cwd: join(root, 'web'),
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
  }),
  // The server, started again whenever a file that it has read was rebuilt.
  spawn(process.execPath, ['--watch', '--watch-preserve-output', join(root, 'server', 'dist', 'main.js')], {
    env,
    stdio: 'inherit',
  }),
];
say(`\n  The newsroom  http://127.0.0.1:${port}/desk/   (Ctrl-C stops it)\n`);

for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => {
    for (const child of children) child.kill('SIGTERM');
    void standins?.stop();
    cluster?.stop();
    process.exit(0);
  });
