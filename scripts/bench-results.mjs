// What came of it: results over a million reads, what counting costs a page, and a letter to ten thousand.
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { cookiesOf, median, said } from './bench-figures.mjs';
import { root, say } from './machine.mjs';

const autocannon = createRequire(join(root, 'e2e', 'package.json'))('autocannon');
const { SMTPServer } = createRequire(join(root, 'server', 'package.json'))('smtp-server');
const { loadLarge } = await import('@keyroster/demo');

const POSTS = 5000;
const ROWS = 1_000_000;
const ROUNDS = 13;
const SUBSCRIBERS = 10_000;

export async function benchResults({ port, db, row, startOne, kill }) {
  await countingReads(port, row);
  await millionReads(port, db, row);
  await bigLetter({ db, row, startOne, kill });
}

async function signedIn(port) {
  const base = `http://127.0.0.1:${port}`;
  const [{ email, password }] = await (await fetch(`${base}/api/demo/people`)).json();
  const answer = await fetch(`${base}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password }),
  });
  const cookie = cookiesOf(answer);
  return async (path, body, version) => {
    const found = await fetch(`${base}${path}`, {
      method: body ? 'POST' : 'GET',
      headers: {
        cookie,
        'content-type': 'application/json',
        ...(version ? { 'if-match': `"${version}"` } : {}),
      },
      body: body && JSON.stringify(body),
    });
    if (!found.ok) throw new Error(`${path}: ${found.status} ${await found.text()}`);
    return found.json();
  };
}

/** A post's page for readers, who are counted, in turn with the same for a program, which is not. */
async function countingReads(port, row) {
  const call = await signedIn(port);
  const { posts } = await call('/api/posts?stage=published&limit=1');
  const url = `http://127.0.0.1:${port}/${posts[0].slug}`;
  const { headers } = await fetch(url);
  const cookie = cookiesOf({ headers });
  const rate = async (agent) => {
    const result = await autocannon({
      url,
      connections: 32,
      duration: 3,
      headers: { 'user-agent': agent, cookie },
    });
    if (result.non2xx || result.errors) throw new Error('The page was refused.');
    return result.requests.average;
  };
  const [counted, uncounted] = [[], []];
  const turns = [
    [counted, 'Mozilla/5.0'],
    [uncounted, 'a crawler'],
  ];
  // Each goes first as often as the other: what comes first in a round does so on a machine that just rested.
  for (let i = 0; i < ROUNDS; i++)
    for (const [kept, agent] of i % 2 === 0 ? turns : [...turns].reverse()) kept.push(await rate(agent));
  const ratios = counted.slice(1).map((n, i) => n / uncounted[i + 1]);
  row(
    'a post’s page whose reads are counted',
    `${median(counted.slice(1)).toFixed(0)} requests/s, ${(100 * (1 - median(ratios))).toFixed(1)}% fewer (median of ${ROUNDS - 1} rounds in turn)`,
    `${median(uncounted.slice(1)).toFixed(0)} requests/s, the same page for a program that is not counted`,
    'at most 5% fewer',
  );
}

async function millionReads(port, db, row) {
  // Where the archive was measured before, there are posts enough.
  const [{ count }] = await db('posts').where({ blog_id: 1, stage: 'published' }).count();
  if (Number(count) < POSTS) await loadLarge(db, POSTS);
  say(`Counting ${ROWS} rows of reads …`);
  await db.raw(
    `
      insert into post_reads (post_id, day, reads)
      select p.id, current_date - d.n, 1 + (p.id * 7 + d.n * 13) % 9
      from
        (select id from posts where stage = 'published' and blog_id = 1 order by id limit ?) p
        cross join generate_series(0, ?::int) as d (n)
      on conflict do nothing
    `,
    [POSTS, Math.ceil(ROWS / POSTS)],
  );
  await db.raw('vacuum analyze post_reads');
  const [{ n, reads }] = (await db.raw('select count(*)::int as n, sum(reads)::int as reads from post_reads'))
    .rows;
  const call = await signedIn(port);
  const today = new Date().toISOString().slice(0, 10);
  const from = (days) => new Date(Date.now() - days * 86_400_000).toISOString().slice(0, 10);
  const times = [];
  const plain = [];
  for (let i = 0; i < 8; i++) {
    let began = performance.now();
    await call(`/api/results?from=${from(90)}&to=${today}`);
    times.push(performance.now() - began);
    began = performance.now();
    await db.raw(
      'select post_id, sum(reads) from post_reads where day > current_date - 182 group by post_id',
    );
    plain.push(performance.now() - began);
  }
  const year = [];
  for (let i = 0; i < 4; i++) {
    const began = performance.now();
    await call(`/api/results?from=${from(364)}&to=${today}`);
    year.push(performance.now() - began);
  }
  row(
    `results of a quarter over ${(reads / 1e6).toFixed(1)} million reads in ${(n / 1e6).toFixed(2)} million rows`,
    `${said(times.slice(1))}; of a year ${said(year.slice(1))}`,
    `one plain sum over the same rows: ${said(plain.slice(1))}`,
    'within 500 ms',
  );
}

/** A mail server that counts who got what and keeps nothing. */
async function sink() {
  const got = new Map();
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    onData(stream, session, done) {
      stream.resume();
      stream.on('end', () => {
        const to = session.envelope.rcptTo[0].address;
        got.set(to, (got.get(to) ?? 0) + 1);
        done();
      });
    },
  });
  // Servers that are killed hang up in the middle of a word.
  server.on('error', () => undefined);
  await new Promise((ready) => server.listen(0, '127.0.0.1', ready));
  return { got, url: `smtp://127.0.0.1:${server.server.address().port}`, close: () => server.close() };
}

async function bigLetter({ db, row, startOne, kill }) {
  await kill();
  const mail = await sink();
  const port = await startOne({ MAIL_SERVER: mail.url });
  await db('subscribers').delete();
  await db.raw(
    `
      insert into subscribers (blog_id, email, state, how)
      select 1, 'reader' || n || '@readers.example', 'active', 'import' from generate_series(1, ?::int) as n
    `,
    [SUBSCRIBERS],
  );
  const call = await signedIn(port);
  const { posts } = await call('/api/posts?stage=published&limit=1');
  const letter = await call('/api/letters', { postIds: [posts[0].id] });
  const began = performance.now();
  await call(`/api/letters/${letter.id}/send`, {}, letter.version);
  while (mail.got.size < SUBSCRIBERS / 2) await new Promise((done) => setTimeout(done, 20));
  const half = performance.now() - began;
  await kill();
  await startOne({ MAIL_SERVER: mail.url });
  const state = async () => (await db('letters').where({ id: letter.id }).first('state')).state;
  while ((await state()) !== 'sent') await new Promise((done) => setTimeout(done, 100));
  const whole = performance.now() - began;
  const twice = [...mail.got.values()].filter((n) => n > 1).length;
  const unsure = await db('letter_sends').where({ letter_id: letter.id, state: 'unsure' });
  row(
    `a letter to ${SUBSCRIBERS.toLocaleString('en')} subscribers, every server killed at the half`,
    `${(whole / 1000).toFixed(1)} s (the half after ${(half / 1000).toFixed(1)} s), ${mail.got.size} got it, ${twice} twice, ${unsure.length} in doubt, left for a person to decide`,
    'nothing',
    'within 60 s, each once',
  );
  mail.close();
}
