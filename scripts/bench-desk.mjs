// The desk's numbers: a long text in a real browser, checks and titles in their worker, likeness in the
// database, a heavy picture.
/* global window -- what is handed to the page runs there */
import { max, said } from './bench-figures.mjs';
import { likeness } from './bench-likeness.mjs';
import { heavyPicture } from './bench-pictures.mjs';

/** Sentences from the demo's own words, the same every time. */
function prose(words, seed) {
  const vocabulary = (
    'lock gate paddle boat water canal winter pump engine keeper morning path bridge ' +
    'stove letter rope hatch weed diesel frost ladder basin crane mooring kettle windlass'
  ).split(' ');
  let x = seed;
  const next = (n) => {
    x = (Math.imul(x, 1664525) + 1013904223) >>> 0;
    return x % n;
  };
  const out = [];
  while (out.length < words) out.push(`${vocabulary[next(vocabulary.length)]}${next(9) === 0 ? '.' : ''}`);
  return out.join(' ');
}

const bodyOf = (words, seed) => ({
  type: 'doc',
  content: Array.from({ length: Math.ceil(words / 100) }, (_, i) =>
    i % 8 === 7
      ? {
          type: 'heading',
          attrs: { level: 2 },
          content: [{ type: 'text', text: `Part ${(i + 1) / 8} of it` }],
        }
      : {
          type: 'paragraph',
          content: [{ type: 'text', text: prose(Math.ceil(((words / 100) * 8) / 7), seed + i) }],
        },
  ),
});

async function write(context, title, body) {
  const post = await (await context.request.post('/api/posts', { data: { title, categoryId: 1 } })).json();
  const stored = await context.request.put(`/api/posts/${post.id}/body`, {
    headers: { 'If-Match': String(post.version) },
    data: { body },
  });
  if (!stored.ok()) throw new Error(await stored.text());
  const moved = await context.request.post(`/api/posts/${post.id}/moves`, { data: { to: 'commissioned' } });
  if (!moved.ok()) throw new Error(await moved.text());
  return post.id;
}

const LETTERS = 'It froze again in the night, and the hatch was full.';

/**
 * Types so many letters and tells how long each frame took, and each task that kept the page for over 50 ms.
 */
async function typing(page, letters) {
  await page.evaluate(() => {
    window.frames0 = [];
    window.tasks0 = [];
    new window.PerformanceObserver((list) =>
      window.tasks0.push(...list.getEntries().map((e) => e.duration)),
    ).observe({ type: 'longtask' });
    let last = performance.now();
    const look = () => {
      const now = performance.now();
      window.frames0.push(now - last);
      last = now;
      window.watching = requestAnimationFrame(look);
    };
    requestAnimationFrame(look);
  });
  for (const letter of letters) await page.keyboard.type(letter, { delay: 60 });
  await page.waitForTimeout(1500);
  return page.evaluate(() => {
    window.cancelAnimationFrame(window.watching);
    return { frames: window.frames0.slice(1), tasks: window.tasks0 };
  });
}

/** The same letters where no code of ours runs: what this machine does by itself in that time. */
async function bareTyping(context, letters) {
  const page = await context.newPage();
  await page.setContent(
    `<main contenteditable style="width: 700px; font: 18px serif">${bodyOf(10_000, 5)
      .content.map((n) => `<p>${n.content[0].text}</p>`)
      .join('')}</main>`,
  );
  await page.locator('main').focus();
  await page.waitForTimeout(1000);
  await page.keyboard.press('Control+End');
  const seen = await typing(page, letters);
  await page.close();
  return seen;
}

async function longText(context, page, row) {
  const long = await write(context, 'Ten thousand words for measuring', bodyOf(10_000, 5));
  const short = await write(context, 'Few words for measuring', bodyOf(100, 6));
  const opens = { [long]: [], [short]: [] };
  for (let i = 0; i < 5; i++) {
    for (const id of [long, short]) {
      await page.goto('/desk/desk');
      const link = page.locator(`a[href="/desk/posts/${id}"]`);
      await link.waitFor();
      await page.waitForTimeout(800);
      const began = performance.now();
      await link.click();
      // The last paragraph is drawn with all others or not at all.
      await page.locator('[role=textbox][aria-label="Text of the post"] > p').last().waitFor();
      await page.evaluate(
        () => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))),
      );
      opens[id].push(performance.now() - began);
    }
  }
  row(
    'a 10,000-word post, from the click on it to the frame after its text stands',
    said(opens[long]),
    `a 100-word post: ${said(opens[short])}`,
    'within 1 s',
  );
  const frames = {};
  for (const id of [short, long]) {
    await page.goto(`/desk/posts/${id}`);
    await page.getByRole('textbox', { name: 'Text of the post' }).focus();
    await page.waitForTimeout(2500);
    await page.keyboard.press('Control+End');
    frames[id] = await typing(page, LETTERS);
  }
  const over = ({ frames: list, tasks }) =>
    `${max(list).toFixed(0)} ms the longest frame, ${list.filter((f) => f > 50).length} ` +
    `of ${list.length} over 50 ms; tasks over 50 ms: ${tasks.length}`;
  row(
    'the same, typing 52 letters in it, storing and checks along with it',
    over(frames[long]),
    'in a bare editable page of 10,000 words: ' +
      `${over(await bareTyping(context, LETTERS))}; in the 100-word post: ` +
      `${over(frames[short])}`,
    'no frame over 50 ms',
  );
}

async function inTheWorker(context, page, db, row) {
  const id = await write(context, 'Two thousand words for measuring', bodyOf(2000, 9));
  await page.goto(`/desk/posts/${id}`);
  await page.getByRole('textbox', { name: 'Text of the post' }).focus();
  await page.waitForTimeout(1500);
  await page.evaluate(() => performance.clearMeasures());
  for (const letter of 'frozen') {
    await page.keyboard.type(letter);
    await page.waitForTimeout(500);
  }
  const times = (name) => page.evaluate((n) => performance.getEntriesByName(n).map((e) => e.duration), name);
  row(
    'all checks of a 2,000-word post, asked of the worker and answered',
    said(await times('measure post')),
    'nothing',
    'within 100 ms',
  );

  await db.raw(`
    insert into
      posts (
        blog_id,
        stage,
        title,
        slug,
        category_id,
        byline_id,
        body,
        run_local,
        run_zone,
        run_at,
        released_at,
        measured_version
      )
    select
      1,
      'published',
      (array['Winter', 'Frost', 'Morning', 'Letters', 'Pumps']) [1 + n % 5] || ' at lock number ' || n || (array[' and after', ' again', ' by night']) [1 + n % 3],
      'bench-title-' || n,
      1,
      1,
      '{"type":"doc","content":[{"type":"paragraph"}]}',
      '2019-01-01',
      'UTC',
      '2019-01-01',
      '2019-01-01',
      1
    from
      generate_series(1, 10000) n
  `);
  await page.reload();
  await page.getByRole('tab', { name: 'Titles' }).click();
  await page
    .getByText(/characters; about 55 are usual/)
    .first()
    .waitFor({ timeout: 30_000 });
  await page.waitForTimeout(1000);
  await page.evaluate(() => performance.clearMeasures('measure facts'));
  for (const title of [
    'Six turns that save your pump',
    'What the frost left behind',
    'Letters from lock 22',
    'A stove, a kettle and no wind',
    'Stop before the bridge',
  ]) {
    await page.getByLabel('A title to try').fill(title);
    await page.waitForTimeout(700);
  }
  const facts = await times('measure facts');
  row(
    'title trials: the title and the one being typed, against 10,000 titles',
    said(facts),
    `making the titles known, once: ${said(await times('measure titles'))}`,
    'within 50 ms a title',
  );
}

export async function benchDesk(browser, port, db, row) {
  const context = await browser.newContext({
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
  });
  const people = await (await context.request.get('/api/demo/people')).json();
  await context.request.post('/api/session', {
    data: { email: people[0].email, password: people[0].password },
  });
  const page = await context.newPage();
  await longText(context, page, row);
  await heavyPicture(context, row);
  await inTheWorker(context, page, db, row);
  await likeness(db, row);
  await context.close();
}
