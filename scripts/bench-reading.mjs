// Readers who get what is theirs: first visits, what it costs to ask who may read, and a comment on its way.
/* global URLSearchParams */
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { cookiesOf, max, median } from './bench-figures.mjs';
import { root } from './machine.mjs';

const autocannon = createRequire(join(root, 'e2e', 'package.json'))('autocannon');
const ROUNDS = 6;
const COMMENTS = 4;

export async function benchReading(browser, port, row) {
  const base = `http://127.0.0.1:${port}`;
  const context = await browser.newContext({ baseURL: base });
  const people = await (await context.request.get('/api/demo/people')).json();
  const { email, password } = people[0];
  await context.request.post('/api/session', { data: { email, password } });
  await firstVisits(context, base, row);
  await whoMayRead(context, base, row);
  await comments(context, base, row);
  await context.close();
}

const serialOf = async (context) => (await (await context.request.get('/api/serials')).json())[0];

/** A thousand readers a second who were never here, for ten seconds. */
async function firstVisits(context, base, row) {
  const before = (await serialOf(context)).visits;
  const result = await autocannon({
    url: `${base}/`,
    connections: 50,
    duration: 10,
    overallRate: 1000,
    headers: { 'user-agent': 'Mozilla/5.0' },
  });
  await new Promise((done) => setTimeout(done, 3000));
  const counted = (await serialOf(context)).visits - before;
  row(
    'a thousand first visits a second for ten seconds',
    `${result['2xx']} served, ${result.non2xx + result.errors + result.timeouts} errors, ${counted} counted, 99 of 100 within ${result.latency.p99} ms`,
    'nothing',
    'without an error',
  );
}

/** The front page for a reader with a first visit of their own, in turn with the same while no part comes later. */
async function whoMayRead(context, base, row) {
  const { id, title, intro, parts } = await serialOf(context);
  const put = async (delayOf) => {
    const { version } = await serialOf(context);
    const body = parts.map((p) => ({ postId: p.postId, delay: delayOf(p) }));
    const data = { title, intro, parts: body, accepting: true };
    const headers = { 'If-Match': `"${version}"` };
    const answer = await context.request.put(`/api/serials/${id}`, { data, headers });
    if (!answer.ok()) throw new Error(await answer.text());
    await new Promise((done) => setTimeout(done, 500));
  };
  const cookie = cookiesOf(await fetch(`${base}/`));
  const rate = async () => {
    const result = await autocannon({ url: `${base}/`, connections: 32, duration: 4, headers: { cookie } });
    if (result.non2xx || result.errors) throw new Error('The front page was refused.');
    return result.requests.average;
  };
  const [asked, unasked] = [[], []];
  for (let i = 0; i < ROUNDS; i++) {
    await put((p) => p.delay);
    asked.push(await rate());
    await put(() => ({ days: 0, hours: 0, minutes: 0 }));
    unasked.push(await rate());
  }
  await put((p) => p.delay);
  // The first round of each warms up and is not counted.
  const ratios = asked.slice(1).map((a, i) => a / unasked[i + 1]);
  row(
    'the front page for a reader of a serial: who may read what is asked',
    `${median(asked.slice(1)).toFixed(0)} requests/s, ${(100 * (1 - median(ratios))).toFixed(1)}% fewer (median of five rounds in turn)`,
    `${median(unasked.slice(1)).toFixed(0)} requests/s, the same page while nothing comes later`,
    'at most 5% fewer',
  );
}

/** From the sending of a comment to the frame in which who moderates sees it. */
async function comments(context, base, row) {
  const page = await context.newPage();
  await page.goto('/desk/comments');
  await page.getByRole('article').first().waitFor();
  // A moderator has the page open already, and its stream.
  await page.waitForTimeout(3000);
  const { posts } = await (await context.request.get('/api/posts?stage=published&limit=1')).json();
  const times = [];
  for (let i = 0; i < COMMENTS; i++) {
    const name = `Reader ${i}`;
    const shown = page.getByRole('article', { name: `Comment by ${name}` }).waitFor();
    const began = performance.now();
    const answer = await fetch(`${base}/comment`, {
      method: 'POST',
      body: new URLSearchParams({
        post: posts[0].id,
        name,
        email: '',
        text: 'A word about it.',
        website: '',
      }),
    });
    if (!answer.ok) throw new Error(`A comment was refused: ${answer.status}`);
    await shown;
    times.push(performance.now() - began);
  }
  row(
    'a comment, from its sending to the screen of who moderates',
    `median ${median(times).toFixed(0)} ms (most ${max(times).toFixed(0)} ms)`,
    'nothing',
    'within 1 s',
  );
}
