// Builds what is stale: the TypeScript workspaces, then the newsroom, with its files packed ahead for the
// wire.
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';
import { checkNode, installPackages, must, root, say } from './machine.mjs';

export const webFolder = join(root, 'web', 'dist', 'browser');

function* filesUnder(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (entry.name === 'node_modules' || entry.name === 'dist' || entry.name.startsWith('.')) continue;
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* filesUnder(path);
    else yield path;
  }
}

function fingerprint(folders) {
  const hash = createHash('sha256');
  for (const folder of folders) {
    for (const path of [...filesUnder(join(root, folder))].sort())
      if (!/\.spec\.ts$/.test(path)) hash.update(path.slice(root.length)).update(readFileSync(path));
  }
  return hash.update(readFileSync(join(root, 'package-lock.json'))).digest('hex');
}

export function build() {
  say('Compiling what changed …');
  must('npx', ['--no-install', 'tsc', '-b']);
  must(process.execPath, [join(root, 'scripts', 'reply-schemas.mjs'), fingerprint(['core', 'contract'])]);
  const mark = join(root, 'web', 'dist', '.built-from');
  const now = fingerprint(['web', 'core', 'contract']);
  if (existsSync(mark) && readFileSync(mark, 'utf8') === now) return;
  say('Building the newsroom, which takes about a minute …');
  must('npx', ['--no-install', 'ng', 'build'], {
    cwd: join(root, 'web'),
    env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
    quiet: true,
  });
  pack(webFolder);
  writeFileSync(mark, now);
}

function pack(folder) {
  for (const path of filesUnder(folder)) {
    if (!/\.(js|css|html|svg|json)$/.test(path) || statSync(path).size < 600) continue;
    const bytes = readFileSync(path);
    writeFileSync(
      `${path}.br`,
      brotliCompressSync(bytes, { params: { [constants.BROTLI_PARAM_QUALITY]: 9 } }),
    );
    writeFileSync(`${path}.gz`, gzipSync(bytes, { level: 9 }));
  }
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  checkNode();
  installPackages();
  build();
}
