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
  for (const count of [200, 1000]) {
    const due = at(count / 100 + 3);
    await schedule(db, count, due);
    await new Promise((done) => setTimeout(done, Math.max(0, Date.parse(due) - Date.now())));
    const log = await released(db, due, count, 60_000);
    const once = new Set(log.map((l) => l.id)).size;
    row(
      `${count} due in one second, two processes`,
      `all out after ${(max(log.map((l) => l.late)) / 1000).toFixed(2)} s; ${once} posts, ${log.length} releases`,
      'its run time',
      count === 1000 ? 'within 5 s, each once' : 'each once',
    );
  }
  await db.destroy();
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
  for (let i = 0; i < 4; i++) {
    // The first round of each warms up and is not counted.
    const a = await load(url);
    const b = await load(`http://127.0.0.1:${barePort}/page`);
    if (i > 0) {
      ours.push(a);
      theirs.push(b);
    }
  }
  row(
    `readers' post page, ${(bytes.length / 1024).toFixed(1)} kB`,
    `${median(ours).toFixed(0)} requests/s (${((100 * median(ours)) / median(theirs)).toFixed(0)}%)`,
    `${median(theirs).toFixed(0)} requests/s, bare Express route`,
    'at least 80%',
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
  if (!only || only === 'planner') await benchPlanner(browser, port, db, row);
  if (!only || only === 'desk') await benchDesk(browser, port, db, row);
  if (!only || only === 'archive')
    await benchArchive(
      browser,
      port,
      db,
      row,
      children.filter((c) => c.exitCode === null).map((c) => c.pid),
    );
  if (!only || only === 'outlets') await benchOutlets(db, row, standins);
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
    await releases();
    await readerPages(port);
  }
  if (!only || only === 'texts') {
    const db = connect(databaseUrl);
    await benchTexts(port, row, db);
    await db.destroy();
  }
  if (only !== 'releases' && only !== 'texts') await firstLoad(port);
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
