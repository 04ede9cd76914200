// npm test: everything from a fresh clone to one line that says how it went.
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join, relative } from 'node:path';
import {
  checkNode,
  chromiumPath,
  ensureChromium,
  installPackages,
  root,
  run,
  running,
  say,
} from './machine.mjs';

checkNode();
installPackages();
ensureChromium();
const { ensureDatabase, psql, startPostgres } = await import('./postgres.mjs');
const { build } = await import('./build.mjs');
const { browserSite } = await import('./browser-site.mjs');

// npm test [suite …] [file …]: parts, or in them only the tests of some files.
const SUITES = ['format', 'lint', 'types', 'unit', 'browser'];
const only = process.argv.slice(2).filter((word) => SUITES.includes(word));
const files = process.argv.slice(2).filter((word) => !SUITES.includes(word));
const wanted = (name) => only.length === 0 || only.includes(name);
const results = join(root, '.data', 'test-results');
mkdirSync(results, { recursive: true });
const counts = { passed: 0, failed: 0, flaky: 0 };
const failed = [];
/** What took how long, in ms. */
const took = [];
const began = performance.now();

async function suite(name, what) {
  if (!wanted(name)) return;
  say(`\n— ${name}`);
  const [at, start] = [took.length, performance.now()];
  if (!(await what())) failed.push(name);
  took.splice(at, 0, { name, ms: performance.now() - start });
}

/** Of each kind of test, so many of the files that took longest are listed at the end. */
const SLOWEST = 8;

/** Runs tests that write down how they went, and adds that to the counts. */
async function counted(name, command, args, env, read) {
  const file = join(results, `${name}.json`);
  rmSync(file, { force: true });
  const status = await running(command, args(file), { env: { ...process.env, ...env } });
  const {
    passed,
    failed: bad,
    flaky = 0,
    parts = [],
  } = existsSync(file) ? read(JSON.parse(readFileSync(file, 'utf8'))) : { passed: 0, failed: 1 };
  took.push(...parts.toSorted((a, b) => b.ms - a.ms).slice(0, SLOWEST));
  counts.passed += passed;
  counts.flaky += flaky;
  counts.failed += bad === 0 && status !== 0 ? 1 : bad;
  return status === 0 && bad === 0;
}

const cluster = await startPostgres(join(root, '.data', 'test'), { durable: false });
try {
  const start = performance.now();
  build();
  took.push({ name: 'build', ms: performance.now() - start });
  const passes = async (args) => (await running('npx', ['--no-install', ...args])) === 0;
  // What only reads the code goes side by side.
  await Promise.all([
    suite('lint', () => passes(['eslint', '.'])),
    (async () => {
      await suite('format', () => passes(['prettier', '--check', '.', '--log-level', 'warn']));
      await suite('types', () => passes(['tsc', '-p', 'tsconfig.spec.json']));
    })(),
  ]);

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

  await suite('unit', () =>
    counted(
      'unit',
      process.execPath,
      (file) => [
        '--experimental-vm-modules',
        '--no-warnings',
        'node_modules/jest/bin/jest.js',
        // More than the cores: a spec waits for the database, or for a clock, much of its time.
        '--maxWorkers=3',
        '--json',
        `--outputFile=${file}`,
        ...(process.env.CI ? ['--ci'] : []),
        ...files,
      ],
      env,
      (r) => ({
        passed: r.numPassedTests,
        failed: r.numFailedTests + r.numRuntimeErrorTestSuites,
        parts: r.testResults.map(({ name, startTime, endTime }) => ({
          name: `  ${relative(root, name)}`,
          ms: endTime - startTime,
        })),
      }),
    ),
  );

  await suite('browser', inBrowsers);
} finally {
  // A throw-away database: the next run makes its own.
  cluster.discard();
}

counts.failed += failed.filter((name) => !['unit', 'browser'].includes(name)).length;
if (failed.length > 0) say(`\nFailed: ${failed.join(', ')}`);
say(`\nTime in seconds, of ${seconds(performance.now() - began)} in all:`);
for (const { name, ms } of took) say(`${seconds(ms).padStart(6)}  ${name}`);
const flaky = counts.flaky === 0 ? '' : `, ${counts.flaky} of them only at the second try (see above)`;
say(`\n${counts.passed} passed${flaky}, ${counts.failed} failed`);
process.exit(failed.length > 0 ? 1 : 0);

/**
 * The tests in a browser, two files at once: each waits for its pages much of its time. Each of the two has a
 * newsroom of its own, so that neither meets what the other does.
 */
async function inBrowsers() {
  const sites = await Promise.all(
    (files.length === 1 ? [0] : [0, 1]).map((index) => browserSite(cluster, index)),
  );
  try {
    return await counted(
      'browser',
      'npx',
      () => ['--no-install', 'playwright', 'test', '--config', 'e2e/playwright.config.ts', ...files],
      {
        TEST_POSTGRES_URL: cluster.url('postgres'),
        PLAYWRIGHT_JSON_OUTPUT_NAME: join(results, 'browser.json'),
        CHROMIUM: chromiumPath(),
        E2E_SITES: JSON.stringify(sites.map(({ url, env, standins }) => ({ url, env, standins }))),
      },
      ({ stats: { expected, flaky, unexpected }, suites }) => ({
        passed: expected + flaky,
        failed: unexpected,
        flaky,
        parts: suites.map((file) => ({ name: `  e2e/${file.file}`, ms: timeOf(file) })),
      }),
    );
  } finally {
    for (const site of sites) await site.stop();
  }
}

function seconds(ms) {
  return String(Math.round(ms / 1000));
}

/** How long all tests of a file took, in ms. */
function timeOf({ specs = [], suites = [] }) {
  const results = specs.flatMap((spec) => spec.tests.flatMap((test) => test.results));
  return [...results.map((r) => r.duration), ...suites.map(timeOf)].reduce((sum, ms) => sum + ms, 0);
}
