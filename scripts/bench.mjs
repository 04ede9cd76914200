// npm run bench: the numbers that matter, side by side with their yardsticks, on a database of its own.
import { spawn } from 'node:child_process';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { build, webFolder } from './build.mjs';
import { checkNode, installPackages, must, root, say } from './machine.mjs';

/** `npm run bench desk` measures that part alone. */
const only = process.argv[2];
checkNode();
installPackages();
build();
const { ensureDatabase, freePort, psql, startPostgres } = await import('./postgres.mjs');
const require = createRequire(join(root, 'e2e', 'package.json'));
const autocannon = require('autocannon');
const { Logger, run: runWorker } = createRequire(join(root, 'server', 'package.json'))('graphile-worker');
const { connect, planReleases } = await import('@keyroster/server');
// These read what was built, which on a fresh clone is there only now.
const [{ benchArchive }, { benchDesk }, { benchOutlets, benchStandins }, { benchPlanner }, { benchTexts }] =
  await Promise.all(
    ['archive', 'desk', 'outlets', 'planner', 'texts'].map((part) => import(`./bench-${part}.mjs`)),
  );

const cluster = await startPostgres(join(root, '.data', 'bench'));
psql(cluster, 'postgres', 'drop database if exists kr_bench with (force)');
const databaseUrl = ensureDatabase(cluster, 'kr_bench');
const children = [];
const standins = await benchStandins();
const rows = [];
const median = (list) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)];
const max = (list) => Math.max(...list);
const row = (what, ours, yardstick, must) => {
  rows.push({ what, ours, yardstick, must });
  say(`${what}: ${ours}`);
};

/** Measures a part; when it does not come to its end, that is a row of the table, and the rest is still measured. */
async function part(name, measure) {
  try {
    await measure();
  } catch (error) {
    row(
      `${name}: broken off`,
      String(error.message ?? error)
        .split('\n')[0]
        .slice(0, 160),
      'nothing',
      'an end',
    );
  }
}

async function startOne() {
  const port = await freePort();
  const child = spawn(process.execPath, [join(root, 'server', 'dist', 'main.js')], {
    env: {
      ...process.env,
      ...standins.env,
      DATABASE_URL: databaseUrl,
      PORT: String(port),
      WEB_FOLDER: webFolder,
      LOG_LEVEL: 'error',
      NODE_ENV: 'production',
      PUBLIC_URL: `http://127.0.0.1:${port}`,
    },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  children.push(child);
  await new Promise((done) => child.once('message', done));
  return port;
}

/** So many copies of a published post, scheduled for one moment through the same job as any other. */
async function schedule(db, count, at) {
  await db.transaction(async (trx) => {
    const made = await trx.raw(
      `
        insert into
          posts (
            blog_id,
            stage,
            title,
            slug,
            category_id,
            byline_id,
            body,
            body_text,
            words,
            run_local,
            run_zone,
            run_at,
            scheduled_at
          )
        select
          blog_id,
          'scheduled',
          'Bench ' || n,
          'bench-' || extract(
            epoch
            from
              ?::timestamptz
          )::bigint || '-' || n,
          category_id,
          byline_id,
          body,
          body_text,
          words,
          ?::timestamptz at time zone 'Europe/London',
          'Europe/London',
          ?::timestamptz,
          now()
        from
          (
            select
              *
            from
              posts
            where
              stage = 'published'
            order by
              id
            limit
              1
          ) p,
          generate_series(1, ?) n
        returning
          id
      `,
      [at, at, at, count],
    );
    await planReleases(
      trx,
      made.rows.map(({ id }) => ({ postId: id, runAt: at })),
    );
  });
}

async function released(db, at, count, limitMs) {
  const end = Date.now() + limitMs;
  for (;;) {
    const log = await db('release_log')
      .where('due_at', at)
      .select('post_id', db.raw('extract(epoch from released_at - due_at) * 1000 as late'));
    if (log.length >= count || Date.now() > end)
      return log.map((l) => ({ id: l.post_id, late: Number(l.late) }));
    await new Promise((done) => setTimeout(done, 100));
  }
}

const at = (seconds) =>
  new Date(Math.ceil(Date.now() / 1000) * 1000 + seconds * 1000).toISOString().replace('.000Z', 'Z');

async function releases() {
  const db = connect(databaseUrl);
  const lates = [];
  for (let i = 0; i < 15; i++) {
    const due = at(1);
    await schedule(db, 1, due);
    lates.push(...(await released(db, due, 1, 10_000)).map((r) => r.late));
  }
  row(
    'a release alone, 15 times, two processes: median lateness',
    `${median(lates).toFixed(0)} ms (most ${max(lates).toFixed(0)} ms)`,
    'its run time',
    'within 250 ms',
  );
  const rush = async (count) => {
    const due = at(count / 100 + 3);
    await schedule(db, count, due);
    await new Promise((done) => setTimeout(done, Math.max(0, Date.parse(due) - Date.now())));
    const log = await released(db, due, count, 60_000);
    const once = new Set(log.map((l) => l.id)).size;
    return { seconds: max(log.map((l) => l.late)) / 1000, once, releases: log.length };
  };
  const few = await rush(200);
  row(
    '200 due in one second, two processes',
    `all out after ${few.seconds.toFixed(2)} s; ${few.once} posts, ${few.releases} releases`,
    'its run time',
    'each once',
  );
  // In turns, since the machine is not always as quick as itself.
  const [ours, plain] = [[], []];
  for (let i = 0; i < 3; i++) {
    ours.push(await rush(1000));
    plain.push(await plainQueue(db, 1000));
  }
  const [mine, theirs] = [median(ours.map((o) => o.seconds)), median(plain)];
  row(
    '1000 due in one second, two processes, three times',
    `all out after ${mine.toFixed(2)} s (${ours.map((o) => `${o.once} posts, ${o.releases} releases`).join('; ')})`,
    `the same queue with one plain UPDATE a job: ${theirs.toFixed(2)} s; ${(mine / theirs).toFixed(1)} ×`,
    'each once, at most 1.5 × the queue',
  );
  await db.destroy();
}

/** The same queue, twice as here, with nothing to do but one UPDATE a job: seconds until the last is done. */
async function plainQueue(db, count) {
  const ids = await db('posts').limit(count).pluck('id');
  const due = at(count / 100 + 3);
  let last = 0;
  let left = ids.length;
  const runners = [];
  for (let i = 0; i < 2; i++)
    runners.push(
      await runWorker({
        connectionString: databaseUrl,
        concurrency: 6,
        pollInterval: 150,
        noHandleSignals: true,
        crontab: '',
        logger: new Logger(() => () => undefined),
        taskList: {
          plain: async ({ id }, { query }) => {
            await query('update all_posts set updated_at = clock_timestamp() where id = $1', [id]);
            last = Date.now();
            left--;
          },
        },
      }),
    );
  await db.raw(
    `
      select graphile_worker.add_job('plain', json_build_object('id', id), run_at => ?::timestamptz)
      from unnest(?::int[]) id
    `,
    [due, ids],
  );
  const end = Date.parse(due) + 60_000;
  while (left > 0 && Date.now() < end) await new Promise((done) => setTimeout(done, 50));
  for (const runner of runners) await runner.stop();
  return (last - Date.parse(due)) / 1000;
}

/** A bare Express route that sends the same bytes with the same headers. */
const BARE = `
const express = require('express');
const app = express();
let bytes = Buffer.alloc(0); let headers = {};
app.get('/page', (req, res) => { res.set(headers); res.send(bytes); });
process.on('message', (m) => { bytes = Buffer.from(m.bytes, 'base64'); headers = m.headers; const s = app.listen(0, '127.0.0.1', () => process.send(s.address().port)); });
`;

async function load(url) {
  const result = await autocannon({ url, connections: 32, duration: 5 });
  if (result.non2xx || result.errors)
    throw new Error(`${url}: ${result.non2xx} refused, ${result.errors} errors`);
  return result.requests.average;
}

async function readerPages(port) {
  const feed = await (await fetch(`http://127.0.0.1:${port}/feed.json`)).json();
  const address = new URL(feed.items.find((i) => i.content_html.length > 1500).url).pathname;
  const url = `http://127.0.0.1:${port}${address}`;
  const page = await fetch(url, { headers: { 'accept-encoding': 'identity' } });
  const bytes = Buffer.from(await page.arrayBuffer());
  const bare = spawn(process.execPath, ['-e', BARE], {
    cwd: join(root, 'server'),
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  children.push(bare);
  const keep = [
    'content-type',
    'etag',
    'vary',
    'cache-control',
    'content-security-policy',
    'x-content-type-options',
    'referrer-policy',
  ];
  bare.send({
    bytes: bytes.toString('base64'),
    headers: Object.fromEntries(keep.map((k) => [k, page.headers.get(k)])),
  });
  const barePort = await new Promise((done) => bare.once('message', done));
  const [ours, theirs] = [[], []];
  for (let i = 0; i < 6; i++) {
    // The first round of each warms up and is not counted.
    const a = await load(url);
    const b = await load(`http://127.0.0.1:${barePort}/page`);
    if (i > 0) {
      ours.push(a);
      theirs.push(b);
    }
  }
  const ratio = median(ours.map((a, i) => a / theirs[i]));
  row(
    `readers' post page, ${(bytes.length / 1024).toFixed(1)} kB, five rounds in turn`,
    `${median(ours).toFixed(0)} requests/s (median of the ratios ${(100 * ratio).toFixed(0)}%)`,
    `${median(theirs).toFixed(0)} requests/s, bare Express route`,
    'at least 100%',
  );
}

/** Script that the first screen needs before it works: what the sign-in page and then Today load. */
async function firstLoad(port) {
  const { chromium } = require('@playwright/test');
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--no-first-run',
    ],
  });
  const context = await browser.newContext({ baseURL: `http://127.0.0.1:${port}` });
  const people = await (await context.request.get('/api/demo/people')).json();
  await context.request.post('/api/session', {
    data: { email: people[0].email, password: people[0].password },
  });
  const page = await context.newPage();
  let bytes = 0;
  const sizes = [];
  page.on('response', (response) => {
    if (/\.js$/.test(new URL(response.url()).pathname))
      sizes.push(
        response
          .request()
          .sizes()
          .then((s) => {
            bytes += s.responseBodySize;
          }),
      );
  });
  await page.goto('/desk/today');
  await page.getByRole('region', { name: 'Open slots' }).waitFor();
  await Promise.all(sizes);
  row(
    'first load of the newsroom, signed in, to Today: script over the wire',
    `${(bytes / 1000).toFixed(0)} kB`,
    'nothing',
    'at most 250 kB',
  );

  const drops = [];
  for (const key of ['ArrowRight', 'ArrowLeft', 'ArrowRight', 'ArrowLeft', 'ArrowDown', 'ArrowUp']) {
    if (drops.length === 0) {
      await page.goto('/desk/planner');
      await page
        .getByRole('button', { name: /, pitch, / })
        .first()
        .focus();
      await page.keyboard.press('Space');
    }
    const before = await page.evaluate(() => performance.now());
    await page.keyboard.press(key);
    await page.evaluate(
      () => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))),
    );
    drops.push((await page.evaluate(() => performance.now())) - before);
  }
  row(
    'planner, a key on a lifted card, to the second frame after it',
    `median ${median(drops).toFixed(0)} ms (most ${max(drops).toFixed(0)} ms)`,
    'nothing',
    'within 100 ms',
  );
  const db = connect(databaseUrl);
  const pids = children.filter((c) => c.exitCode === null).map((c) => c.pid);
  for (const [name, measure] of [
    ['planner', () => benchPlanner(browser, port, db, row)],
    ['desk', () => benchDesk(browser, port, db, row)],
    ['archive', () => benchArchive(browser, port, db, row, pids)],
    ['outlets', () => benchOutlets(db, row, standins)],
  ])
    if (!only || only === name) await part(name, measure);
  await db.destroy();
  await browser.close();
}

try {
  must(process.execPath, [join(root, 'demo', 'dist', 'load.js')], {
    env: { ...process.env, ...standins.env, DATABASE_URL: databaseUrl },
  });
  const port = await startOne();
  await startOne();
  say('Measuring …');
  if (!only || only === 'releases') {
    await part('releases', releases);
    await part('readers’ pages', () => readerPages(port));
  }
  if (!only || only === 'texts') {
    const db = connect(databaseUrl);
    await part('texts', () => benchTexts(port, row, db));
    await db.destroy();
  }
  if (only !== 'releases' && only !== 'texts') await part('the newsroom', () => firstLoad(port));
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
