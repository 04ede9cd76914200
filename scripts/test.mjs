// npm test: everything from a fresh clone to one line that says how it went.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { aptInstall, checkNode, chromiumPath, installPackages, root, run, say } from './machine.mjs';

checkNode();
installPackages();
if (!chromiumPath()) aptInstall(['chromium', 'fonts-dejavu-core'], 'Chromium');
const { ensureDatabase, freePort, psql, startPostgres } = await import('./postgres.mjs');
const { build, webFolder } = await import('./build.mjs');
const { startStandins } = await import('./standins.mjs');

// npm test [suite …] [file …]: parts, or in them only the tests of some files.
const SUITES = ['format', 'lint', 'types', 'unit', 'browser'];
const only = process.argv.slice(2).filter((word) => SUITES.includes(word));
const files = process.argv.slice(2).filter((word) => !SUITES.includes(word));
const wanted = (name) => only.length === 0 || only.includes(name);
const results = join(root, '.data', 'test-results');
mkdirSync(results, { recursive: true });
const counts = { passed: 0, failed: 0, flaky: 0 };
const failed = [];

function suite(name, what) {
  if (!wanted(name)) return;
  say(`\n— ${name}`);
  const ok = what();
  if (!ok) failed.push(name);
}

function counted(name, command, args, env, read) {
  const file = join(results, `${name}.json`);
  rmSync(file, { force: true });
  return take(name, run(command, args(file), { env: { ...process.env, ...env } }), read);
}

/** Adds what a run said of itself to the counts. */
function take(name, status, read) {
  const file = join(results, `${name}.json`);
  const {
    passed,
    failed: bad,
    flaky = 0,
  } = existsSync(file) ? read(JSON.parse(readFileSync(file, 'utf8'))) : { passed: 0, failed: 1 };
  counts.passed += passed;
  counts.flaky += flaky;
  counts.failed += bad === 0 && status !== 0 ? 1 : bad;
  return status === 0 && bad === 0;
}

const cluster = await startPostgres(join(root, '.data', 'test'), { durable: false });
try {
  build();
  suite(
    'format',
    () => run('npx', ['--no-install', 'prettier', '--check', '.', '--log-level', 'warn']) === 0,
  );
  suite('lint', () => run('npx', ['--no-install', 'eslint', '.']) === 0);
  suite('types', () => run('npx', ['--no-install', 'tsc', '-p', 'tsconfig.spec.json']) === 0);

  // A database at its newest shape, cloned by each server spec.
  psql(cluster, 'postgres', 'drop database if exists kr_template with (force)');
  const template = ensureDatabase(cluster, 'kr_template');
  if (
    run(process.execPath, [join(root, 'scripts', 'template.mjs')], {
      env: { ...process.env, DATABASE_URL: template },
    }) !== 0
  )
    failed.push('template');
  const env = { TEST_POSTGRES_URL: cluster.url('postgres') };

  suite('unit', () =>
    counted(
      'unit',
      process.execPath,
      (file) => [
        '--experimental-vm-modules',
        '--no-warnings',
        'node_modules/jest/bin/jest.js',
        // Both cores: a spec waits for the database much of its time.
        '--maxWorkers=2',
        '--json',
        `--outputFile=${file}`,
        ...(process.env.CI ? ['--ci'] : []),
        ...files,
      ],
      env,
      (r) => ({ passed: r.numPassedTests, failed: r.numFailedTests + r.numRuntimeErrorTestSuites }),
    ),
  );

  if (wanted('browser')) {
    say('\n— browser');
    if (!(await inBrowsers())) failed.push('browser');
  }
} finally {
  // A throw-away database: the next run makes its own.
  cluster.discard();
}

counts.failed += failed.filter((name) => !['unit', 'browser'].includes(name)).length;
if (failed.length > 0) say(`\nFailed: ${failed.join(', ')}`);
const flaky = counts.flaky === 0 ? '' : `, ${counts.flaky} of them only at the second try (see above)`;
say(`\n${counts.passed} passed${flaky}, ${counts.failed} failed`);
process.exit(failed.length > 0 ? 1 : 0);

/**
 * The tests in a browser, in two halves at once: each waits for its pages much of its time. Each half has a newsroom
 * and a browser of its own, so that neither meets what the other does.
 */
async function inBrowsers() {
  const shards = files.length > 0 ? [''] : ['1/2', '2/2'];
  const sites = [];
  for (const [i] of shards.entries()) sites.push(await browserSite(cluster, i));
  const halves = shards.map(async (shard, i) => {
    const { url, env, standins } = sites[i];
    const name = `browser-${i + 1}`;
    const file = join(results, `${name}.json`);
    rmSync(file, { force: true });
    const half = spawn(
      'npx',
      [
        '--no-install',
        'playwright',
        'test',
        '--config',
        'e2e/playwright.config.ts',
        ...(shard ? [`--shard=${shard}`] : []),
        ...files,
      ],
      {
        cwd: root,
        stdio: ['ignore', 'inherit', 'inherit'],
        env: {
          ...process.env,
          TEST_POSTGRES_URL: cluster.url('postgres'),
          PLAYWRIGHT_JSON_OUTPUT_NAME: file,
          E2E_OUTPUT: join(root, 'test-results', name),
          CHROMIUM: chromiumPath(),
          E2E_URL: url,
          // For a test that has a server of its own to kill.
          E2E_SERVER: JSON.stringify(env),
          E2E_STANDINS: standins,
        },
      },
    );
    const status = await new Promise((done) => half.once('exit', (code) => done(code ?? 1)));
    return take(name, status, ({ stats: { expected, flaky, unexpected } }) => ({
      passed: expected + flaky,
      failed: unexpected,
      flaky,
    }));
  });
  const passed = await Promise.all(halves);
  for (const site of sites) await site.stop();
  return passed.every(Boolean);
}

/** The built application with the demo, on a database of its own, for the browser to use. */
async function browserSite(cluster, index) {
  const database = `kr_browser_${index + 1}`;
  psql(cluster, 'postgres', `drop database if exists ${database} with (force)`);
  const port = await freePort();
  const folder = join(root, '.data', `test-standins-${index + 1}`);
  rmSync(folder, { recursive: true, force: true });
  const standins = await startStandins({ folder, journal: `http://127.0.0.1:${port}` });
  const env = {
    ...process.env,
    ...standins.env,
    DATABASE_URL: ensureDatabase(cluster, database),
    PORT: String(port),
    HOST: '127.0.0.1',
    DEMO: '1',
    WEB_FOLDER: webFolder,
    LOG_LEVEL: 'warn',
    PUBLIC_URL: `http://127.0.0.1:${port}`,
  };
  if (run(process.execPath, [join(root, 'demo', 'dist', 'load.js')], { env }) !== 0)
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
