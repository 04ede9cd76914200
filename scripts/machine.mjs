// What a fresh machine needs before anything else runs. Uses Node's own modules only.
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..');
export const say = (line) => console.log(line);

/** Runs a command; with `quiet`, what it says is shown only when it fails. */
export function run(command, args, { quiet = false, ...options } = {}) {
  const done = spawnSync(command, args, { cwd: root, stdio: quiet ? 'pipe' : 'inherit', ...options });
  if (done.error) throw done.error;
  if (quiet && done.status !== 0) process.stderr.write(`${done.stdout ?? ''}${done.stderr ?? ''}`);
  return done.status ?? 1;
}

/** The same without standing still meanwhile. */
export async function running(command, args, options = {}) {
  const child = spawn(command, args, { cwd: root, stdio: 'inherit', ...options });
  const [code] = await once(child, 'exit');
  return code ?? 1;
}

export function must(command, args, options = {}) {
  const status = run(command, args, options);
  if (status !== 0) {
    // A database address holds its password: that is not for the screen, nor for logs.
    const shown = [command, ...args].join(' ').replace(/(\w+:\/\/[^:@/\s]*):[^@\s]*@/g, '$1:…@');
    console.error(`\n“${shown}” ended with ${status}.`);
    process.exit(status);
  }
}

/** Ends with what went wrong and what to do, in a sentence; 1 is the status. */
export function endWith(error) {
  const at = error.path ? ` “${error.path}”` : '';
  const sentences = {
    EACCES: `There is no permission to write${at}. Set DATA_DIR to a folder that this account may write to.`,
    EPERM: `There is no permission to write${at}. Set DATA_DIR to a folder that this account may write to.`,
    EROFS: `The disk that holds${at} can only be read. Set DATA_DIR to a folder on another one.`,
    ENOSPC: 'The disk is full. Make room, then start again.',
    ENOTDIR: `There is a file where a folder should be:${at}. Move it, or set DATA_DIR to another folder.`,
  };
  console.error(`\n  ${sentences[error.code] ?? error.message}\n`);
  process.exit(1);
}

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19)) {
    console.error(`Key Roster needs Node 20.19 or newer; this is ${process.versions.node}.`);
    process.exit(1);
  }
}

const canInstall = () =>
  process.getuid?.() === 0 && spawnSync('sh', ['-c', 'command -v apt-get']).status === 0;

/** Installs Debian packages when that is possible here, else says which command to run. */
export function aptInstall(packages, what) {
  const command = `apt-get install -y --no-install-recommends ${packages.join(' ')}`;
  if (!canInstall()) {
    console.error(`${what} is missing. Please run: sudo ${command}`);
    process.exit(1);
  }
  say(`${what} is missing; installing it …`);
  // Debian would start a cluster of its own; ours is started by us.
  mkdirSync('/etc/postgresql-common', { recursive: true });
  if (packages.includes('postgresql') && !existsSync('/etc/postgresql-common/createcluster.conf'))
    writeFileSync('/etc/postgresql-common/createcluster.conf', 'create_main_cluster = false\n');
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  must('apt-get', ['update', '-qq'], { env, stdio: ['ignore', 'ignore', 'inherit'] });
  must('sh', ['-c', `${command} -o Dpkg::Options::=--force-confold`], {
    env,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
}

/** Installs packages when the lock file is not the one they were installed from. */
export function installPackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const mark = join(root, 'node_modules', '.installed-from');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock) return;
  say('Installing packages, which takes one to three minutes …');
  must('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
  writeFileSync(mark, lock);
}

const pathOf = (command) => {
  const found = spawnSync('sh', ['-c', `command -v ${command}`], { encoding: 'utf8' });
  return found.status === 0 ? found.stdout.trim() : null;
};

/** Debian's Chromium: its build without windows where there is one, which does the same in a fifth less time. */
/**
 * For the server's process: as many arenas of memory as it has use for. With one for each of its threads, as the C
 * library would have it, twice the memory is held.
 */
export const memoryEnv = { MALLOC_ARENA_MAX: process.env.MALLOC_ARENA_MAX ?? '2' };

export const chromiumPath = () => pathOf('chromium-headless-shell') ?? pathOf('chromium');

/** Ensures a Chromium. One that is there will do where the other build is not available. */
export function ensureChromium() {
  if (pathOf('chromium-headless-shell')) return;
  const packages = ['chromium-headless-shell', 'fonts-dejavu-core'];
  if (!pathOf('chromium')) aptInstall(packages, 'Chromium');
  else if (canInstall()) {
    say('Installing Chromium’s build without windows, which tests faster …');
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
    const quietly = { env, stdio: 'ignore', timeout: 120_000 };
    if (spawnSync('apt-get', ['update', '-qq'], quietly).status === 0)
      spawnSync('apt-get', ['install', '-y', '--no-install-recommends', ...packages], quietly);
  }
}
