// The readers' pages of a blog with 100,000 posts.
/* global PerformanceObserver -- what is handed to the page runs there */
import { max, median } from './bench-figures.mjs';
import { besideBare, longPost } from './bench-readers.mjs';

const ASKED = (
  'lock gate paddle windlass tiller towpath heron stove lentils engine pump rope knot frost aqueduct mooring ' +
  'swan reed weir keeper'
).split(' ');
const PAGES = 12;
/**
 * A slow line and a slow machine, as in the browser's own tools: 1.6 Mbit/s, 150 ms there and back, a quarter
 * of the speed.
 */
const SLOW = { bytes: 200_000, latency: 150, cpu: 4 };

const times = (all) => `median ${median(all).toFixed(0)} ms (most ${max(all).toFixed(0)} ms)`;

async function timed(url) {
  const began = performance.now();
  const answer = await fetch(url);
  await answer.arrayBuffer();
  if (!answer.ok) throw new Error(`${url}: ${answer.status}`);
  return performance.now() - began;
}

export async function benchSite(browser, context, port, db, row) {
  const base = `http://127.0.0.1:${port}`;
  const post = await longPost(port, db);
  const must = 'at least 80%, 99 of 100 within 50 ms';
  await besideBare(port, row, '/', { what: 'front page of 100,000 posts', connections: 200, must });
  await besideBare(port, row, post, { what: 'a post of 100,000', connections: 200, must });
  const found = [];
  for (const word of ASKED) found.push(await timed(`${base}/search?q=${word}`));
  row(
    `search in 100,000 posts, ${ASKED.length} words, none asked before`,
    times(found),
    'nothing',
    'within 100 ms',
  );
  const made = [];
  for (let n = 2; n < 2 + PAGES; n++) made.push(await timed(`${base}/page/${n}`));
  row('a list page of 100,000 posts that nobody asked for before', times(made), 'nothing', 'none');
  row(
    'an edit of a published post, from its update to the page that has it',
    times(await edits(context, base, post)),
    'nothing',
    'within 1 s',
  );
  row(
    'largest paint of the front page on a slow line and machine',
    times(await paints(browser, base)),
    'nothing',
    'within 1 s',
  );
}

/** How long after an update the page at its address shows it. */
async function edits(context, base, path) {
  const slug = path.split('/').at(-1);
  const { posts } = await (
    await context.request.get(`/api/posts?words=${slug.split('-')[0]}&stage=published&limit=100`)
  ).json();
  const { id, title } = posts.find((p) => p.slug === slug);
  const all = [];
  for (let i = 0; i <= 5; i++) {
    const wanted = i === 5 ? title : `${title} (${i})`;
    const seen = async () => (await (await context.request.get(`/api/posts/${id}`)).json()).version;
    const change = (method, address, data) => async (version) =>
      context.request[method](address, { data, headers: { 'if-match': `"${version}"` } });
    const changed = await change('patch', `/api/posts/${id}`, { title: wanted })(await seen());
    if (!changed.ok()) throw new Error(await changed.text());
    const updated = await change('post', `/api/posts/${id}/updates`, {})(await seen());
    if (!updated.ok()) throw new Error(await updated.text());
    const began = performance.now();
    while (!(await (await fetch(`${base}${path}`)).text()).includes(`<h1>${wanted}</h1>`)) {
      if (performance.now() - began > 5000) throw new Error('The page did not change.');
    }
    all.push(performance.now() - began);
  }
  return all;
}

/** As a reader has it who comes for the first time: people who work here get a page made for them. */
async function paints(browser, base) {
  const all = [];
  for (let i = 0; i < 5; i++) {
    const context = await browser.newContext();
    const page = await context.newPage();
    const tools = await context.newCDPSession(page);
    await tools.send('Network.enable');
    await tools.send('Network.setCacheDisabled', { cacheDisabled: true });
    await tools.send('Network.emulateNetworkConditions', {
      offline: false,
      latency: SLOW.latency,
      downloadThroughput: SLOW.bytes,
      uploadThroughput: SLOW.bytes,
    });
    await tools.send('Emulation.setCPUThrottlingRate', { rate: SLOW.cpu });
    await page.goto(`${base}/`, { waitUntil: 'load' });
    all.push(
      await page.evaluate(
        () =>
          new Promise((done) => {
            new PerformanceObserver((list) => done(list.getEntries().at(-1).startTime)).observe({
              type: 'largest-contentful-paint',
              buffered: true,
            });
          }),
      ),
    );
    await context.close();
  }
  return all;
}
