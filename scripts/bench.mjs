// npm run bench: the numbers that matter, side by side with their yardsticks, on a database of its own.
import { spawn } from 'node:child_process';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { cpuTimes, stolenBetween } from './bench-figures.mjs';
import { build, webFolder } from './build.mjs';
import {
  checkNode,
  chromiumPath,
  ensureChromium,
  installPackages,
  memoryEnv,
  must,
  root,
  say,
} from './machine.mjs';

/** `npm run bench desk` measures that part alone; `site` is the readers' side of the archive's. */
const only = process.argv[2];
checkNode();
installPackages();
ensureChromium();
build();
const { ensureDatabase, freePort, psql, startPostgres } = await import('./postgres.mjs');
const require = createRequire(join(root, 'e2e', 'package.json'));
const { chromium } = require('@playwright/test');
const { connect } = await import('@keyroster/server');
// These read what was built, which on a fresh clone is there only now.
const [
  { benchArchive },
  { benchDesk },
  { benchFrame },
  { benchOthers },
  { benchOutlets, benchStandins },
  { benchPlan },
  { benchPlanner },
  { benchReaders },
  { benchReading },
  { benchReleases },
  { benchResults },
  { benchTexts },
  { benchTogether },
] = await Promise.all(
  [
    'archive',
    'desk',
    'frame',
    'others',
    'outlets',
    'plan',
    'planner',
    'readers',
    'reading',
    'releases',
    'results',
    'texts',
    'together',
  ].map((part) => import(`./bench-${part}.mjs`)),
);

const cluster = await startPostgres(join(root, '.data', 'bench'));
psql(cluster, 'postgres', 'drop database if exists kr_bench with (force)');
const databaseUrl = ensureDatabase(cluster, 'kr_bench');
const children = [];
const standins = await benchStandins();
const rows = [];
const row = (what, ours, yardstick, must) => {
  rows.push({ what, ours, yardstick, must });
  say(`${what}: ${ours}`);
};

/** Measures a part; when it does not come to its end, that is a row of the table, and the rest is still measured. */
async function part(name, measure) {
  const before = cpuTimes();
  try {
    await measure();
    // Where the host gives others a part of the machine, times of that part are longer, and its ratios hold alone.
    say(`  (${name}: the host took ${stolenBetween(before, cpuTimes()).toFixed(0)}% of the machine)`);
  } catch (error) {
    row(
      `${name}: broken off`,
      // Of what the database refuses the reason stands last, after the statement.
      String(error.message ?? error)
        .trim()
        .split('\n')
        .at(-1)
        .slice(-160),
      'nothing',
      'an end',
    );
  }
}

/** Ends every server at once, as a machine does that loses its power. */
async function kill() {
  const running = children.filter((c) => c.exitCode === null && c.signalCode === null);
  const gone = running.map((c) => new Promise((done) => c.once('exit', done)));
  for (const child of running) child.kill('SIGKILL');
  await Promise.all(gone);
}

async function startOne(more = {}) {
  const port = await freePort();
  const child = spawn(process.execPath, [join(root, 'server', 'dist', 'main.js')], {
    env: {
      ...process.env,
      ...memoryEnv,
      ...standins.env,
      DATABASE_URL: databaseUrl,
      PORT: String(port),
      WEB_FOLDER: webFolder,
      LOG_LEVEL: 'error',
      NODE_ENV: 'production',
      PUBLIC_URL: `http://127.0.0.1:${port}`,
      ...more,
    },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  children.push(child);
  await new Promise((done) => child.once('message', done));
  return port;
}

/** The parts that need a browser. */
async function newsroom(port) {
  const browser = await chromium.launch({
    executablePath: chromiumPath(),
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--no-first-run',
    ],
  });
  const db = connect(databaseUrl);
  const pids = children.filter((c) => c.exitCode === null).map((c) => c.pid);
  for (const [name, measure] of [
    ['frame', () => benchFrame(browser, port, row)],
    ['plan', () => benchPlan(row)],
    ['planner', () => benchPlanner(browser, port, db, row)],
    ['desk', () => benchDesk(browser, port, db, row)],
    ['archive', () => benchArchive(browser, port, db, row, pids, only)],
    ['reading', () => benchReading(browser, port, row)],
    ['outlets', () => benchOutlets(db, row, standins)],
  ])
    if (!only || only === name || (only === 'site' && name === 'archive')) await part(name, measure);
  await db.destroy();
  await browser.close();
}

/** Until what the demo and a start give to do is done: it would take its time from what is measured. */
async function untilIdle(url) {
  const db = connect(url);
  const due = () =>
    db('graphile_worker.jobs').whereRaw('run_at <= now() and attempts < max_attempts').first('id');
  for (let i = 0; i < 90 && (await due()); i++) await new Promise((done) => setTimeout(done, 1000));
  await db.destroy();
}

try {
  must(process.execPath, [join(root, 'demo', 'dist', 'load.js')], {
    env: { ...process.env, ...standins.env, DATABASE_URL: databaseUrl },
  });
  const ports = [await startOne(), await startOne()];
  const [port] = ports;
  await untilIdle(databaseUrl);
  say('Measuring …');
  if (!only || only === 'releases') {
    await part('releases', () => benchReleases(databaseUrl, row));
    const db = connect(databaseUrl);
    await part('readers’ pages', () => benchReaders(port, db, row));
    await db.destroy();
  }
  if (!only || only === 'texts') {
    const db = connect(databaseUrl);
    await part('texts', () => benchTexts(port, row, db));
    await db.destroy();
  }
  if (!only || only === 'together') await part('writing together', () => benchTogether(ports, row));
  if (!['releases', 'results', 'texts', 'together', 'others'].includes(only))
    await part('the newsroom', () => newsroom(port));
  if (!only || only === 'others') {
    const db = connect(databaseUrl);
    await part('others’ work', () => benchOthers(port, db, row));
    await db.destroy();
  }
  // The last: it ends the servers half-way and begins others.
  if (only === 'results' || !only) {
    const db = connect(databaseUrl);
    await part('results and letters', () => benchResults({ port, db, row, startOne, kill }));
    await db.destroy();
  }
} finally {
  for (const child of children) child.kill('SIGTERM');
  await standins.stop();
  await new Promise((done) => setTimeout(done, 500));
  cluster.discard();
}
const cell = (text) => String(text).replace(/\|/g, '\\|');
say(
  '\n| what | ours | yardstick | must ' +
    `|\n|---|---|---|---|\n${rows.map((r) => `| ${cell(r.what)} | ${cell(r.ours)} | ${cell(r.yardstick)} | ${cell(r.must)} |`).join('\n')}\n`,
);
process.exit(0);
