// The planner's numbers, in a real browser: at the demo's size, and with five thousand posts in the span.
/* global document -- what is handed to the page runs there */
import { said } from './bench-figures.mjs';

const ROUNDS = 7;

/**
 * So many unfinished posts over the twelve weeks from this Monday, evenly over days, hours, categories and
 * writers.
 */
async function fillSpan(db, count) {
  await db.raw(
    `
      insert into
        posts (
          blog_id,
          stage,
          title,
          category_id,
          byline_id,
          body,
          run_local,
          run_zone,
          run_at,
          copy_date,
          excerpt
        )
      select
        1,
        (array['commissioned', 'drafting', 'in review', 'cleared']) [1 + n % 4],
        'Filling the span, number ' || n,
        (
          select
            id
          from
            categories
          order by
            id
          offset
            n % 5
          limit
            1
        ),
        (
          select
            person_id
          from
            memberships
          where
            role = 'contributor'
          order by
            person_id
          offset
            n % 5
          limit
            1
        ),
        (
          select
            body
          from
            posts
          order by
            id
          limit
            1
        ),
        at,
        'Europe/London',
        at at time zone 'Europe/London',
        at::date - 5,
        'One sentence of excerpt.'
      from
        (
          select
            n,
            date_trunc('week', now() at time zone 'Europe/London')::timestamp + (n % 84) * interval '1 day' + (6 + n % 14) * interval '1 hour' as at
          from
            generate_series(1, ?::int) n
        ) s
    `,
    [count],
  );
  await db.raw('analyze all_posts');
}

/**
 * Runs in the page: milliseconds from what `start` does to the frame after the one in which `there` holds,
 * when that one is on the screen.
 */
const watched = ({ start, there }) =>
  new Promise((done, fail) => {
    const [act, holds] = [new Function(start), new Function(`return ${there}`)];
    const began = performance.now();
    act();
    const look = () => {
      if (holds()) requestAnimationFrame(() => done(performance.now() - began));
      else if (performance.now() - began > 20_000) fail(new Error(`It never came about: ${there}`));
      else requestAnimationFrame(look);
    };
    requestAnimationFrame(look);
  });

async function signIn(browser, port, which) {
  const context = await browser.newContext({
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
  });
  const people = await (await context.request.get('/api/demo/people')).json();
  await context.request.post('/api/session', {
    data: { email: people[which].email, password: people[which].password },
  });
  return context.newPage();
}

/** Milliseconds until so many boxes with a line of text each stand on a page without anything else. */
async function plainElements(context, count) {
  const page = await context.newPage();
  const times = [];
  for (let i = 0; i < ROUNDS; i++) {
    await page.setContent('<!doctype html><body></body>');
    times.push(
      await page.evaluate(watched, {
        start:
          `const all = document.createDocumentFragment(); for (let i = 0; i < ${count}; i++) { const box = ` +
          `document.createElement('div'); box.textContent = 'A line of text, number ' + i; all.append(box); } ` +
          'document.body.append(all);',
        there: `document.body.childElementCount === ${count}`,
      }),
    );
  }
  await page.close();
  return times;
}

/** A day's first card that may be moved, and a day a week later; the same card goes there and back. */
async function oneScale(browser, port, scale, row) {
  const page = await signIn(browser, port, 0);
  await page.goto('/desk/planner?view=weeks&weeks=1');
  await page
    .getByRole('heading', { name: /^wk \d+/ })
    .first()
    .waitFor();
  await page.waitForTimeout(1500);

  const opens = [];
  const wholes = [];
  const fetches = [];
  /** Until every week on the screen has its cards, or until all have. */
  const span = async (weeks, all) => {
    await page.getByRole('combobox', { name: 'How many weeks' }).click();
    await page.getByRole('option', { name: String(weeks), exact: true }).waitFor();
    return page.evaluate(watched, {
      start: `[...document.querySelectorAll('mat-option')].find((o) => o.textContent.trim() === '${weeks}').click();`,
      there:
        `(() => { const rows = [...document.querySelectorAll('.week')]; return rows.length ` +
        `=== ${weeks} && rows.every((w) => w.querySelector('kr-card, .socket') || (!${all} ` +
        '&& w.getBoundingClientRect().top >= innerHeight)); })()',
    });
  };
  for (let i = 0; i < ROUNDS; i++) {
    for (const [all, list] of [
      [false, opens],
      [true, wholes],
    ]) {
      await span(1, true);
      await page.waitForTimeout(700);
      list.push(await span(12, all));
    }
    fetches.push(
      await page.evaluate(async () => {
        const began = performance.now();
        await (await fetch(`/api/planner?weeks=12`)).json();
        return performance.now() - began;
      }),
    );
  }
  row(
    `planner, ${scale}: 12 weeks, from the choice to the frame after the screen is full`,
    said(opens),
    `fetching and reading the same answer alone: ${said(fetches)}`,
    'within 300 ms',
  );
  const count = await page.evaluate(() => document.querySelectorAll('kr-weeks *').length);
  row(
    `planner, ${scale}: the same, to the frame that holds the last week below the screen`,
    said(wholes),
    `${count} plain elements on a bare page: ${said(await plainElements(page.context(), count))}`,
    'none',
  );

  const other = await signIn(browser, port, 1);
  // A full day shows its first cards: one that is first where it stands, and will be where it goes.
  const { id, from, to } = await page.evaluate(() => {
    const timeOf = (day) =>
      /\d\d:\d\d/.exec(document.querySelector(`[data-day="${day}"] [data-card]`)?.textContent ?? '')?.[0];
    const after = (day) => new Date(Date.parse(day) + 86_400_000).toISOString().slice(0, 10);
    const movable = [...document.querySelectorAll('[data-day]')]
      .map((d) => d.querySelector('[data-card]'))
      .find((card) => {
        const day = card?.closest('[data-day]').dataset.day;
        return (
          day &&
          !card.matches('.cdk-drag-disabled') &&
          Date.parse(day) > Date.now() + 10 * 86_400_000 &&
          (timeOf(after(day)) ?? '23:59') >= timeOf(day)
        );
      });
    const day = movable.closest('[data-day]').dataset.day;
    return { id: movable.dataset.card, from: day, to: after(day) };
  });
  const drawn = [];
  const confirmed = [];
  for (let i = 0; i < ROUNDS; i++) {
    const there = i % 2 === 0 ? to : from;
    const card = page.locator(`[data-card="${id}"]`);
    await card.focus();
    await page.keyboard.press('Space');
    await page.keyboard.press(i % 2 === 0 ? 'ArrowRight' : 'ArrowLeft');
    const answer = page.waitForResponse(
      (r) => r.url().includes(`/api/posts/${id}`) && r.request().method() === 'PATCH',
    );
    const began = Date.now();
    drawn.push(
      await page.evaluate(watched, {
        start:
          `document.querySelector('[data-card="${id}"]').dispatchEvent(new ` +
          `KeyboardEvent('keydown', { key: ' ', bubbles: true, cancelable: true }));`,
        there: `document.querySelector('[data-day="${there}"] [data-card="${id}"]')`,
      }),
    );
    const response = await answer;
    if (!response.ok()) throw new Error(`The drop was refused: ${response.status()}`);
    confirmed.push(Date.now() - began);
    await page.waitForTimeout(600);
  }
  row(
    `planner, ${scale}: a drop, to the frame after the one that shows it`,
    said(drawn),
    'nothing',
    'within 100 ms',
  );
  row(`planner, ${scale}: the same drop confirmed by the server`, said(confirmed), 'nothing', 'confirmed');

  await other.goto('/desk/planner?view=weeks&weeks=12');
  await other.locator(`[data-day="${from}"]`).waitFor();
  await other.waitForTimeout(1500);
  const shows = [];
  for (let i = 0; i < ROUNDS; i++) {
    const post = await (await page.request.get(`/api/posts/${id}`)).json();
    const target = post.runLocal.startsWith(from) ? to : from;
    const seen = other.evaluate(
      (what) =>
        new Promise((done) => {
          const look = () =>
            document.querySelector(what)
              ? requestAnimationFrame(() => done(Date.now()))
              : requestAnimationFrame(look);
          look();
        }),
      `[data-day="${target}"] [data-card="${id}"]`,
    );
    const began = Date.now();
    const moved = await page.request.patch(`/api/posts/${id}`, {
      headers: { 'If-Match': `"${post.version}"` },
      data: { runAt: `${target}T${post.runLocal.slice(11, 16)}` },
    });
    if (!moved.ok()) throw new Error(await moved.text());
    shows.push((await seen) - began);
    await page.waitForTimeout(500);
  }
  row(
    `planner, ${scale}: another person’s move, from its request to the frame that shows it`,
    said(shows),
    'nothing',
    'within 1 s',
  );
  await page.context().close();
  await other.context().close();
}

/** @param {(what: string, ours: string, yardstick: string, must: string) => void} row */
export async function benchPlanner(browser, port, db, row) {
  await oneScale(browser, port, 'demo', row);
  await fillSpan(db, 5000);
  await oneScale(browser, port, '5,000 posts in the span', row);
  await db('posts').whereLike('title', 'Filling the span, number %').delete();
}
