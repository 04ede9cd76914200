// npm run screenshots: one picture of each main view, from a demo that is running (npm start), into
// docs/screenshots.
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { chromiumPath, root, say } from './machine.mjs';

const base = process.env.PUBLIC_URL ?? `http://127.0.0.1:${process.env.PORT ?? 4300}`;
const require = createRequire(join(root, 'e2e', 'package.json'));
const { chromium } = require('@playwright/test');
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
const people = await (await fetch(`${base}/api/demo/people`)).json();

/** Chooses one of a list, by what it says. */
async function choose(list, option) {
  await list.click();
  await list.page().getByRole('option', { name: option, exact: true }).click();
}

async function shoot(file, who, path, { width = 1280, height = 800, scheme = 'light', before } = {}) {
  const context = await browser.newContext({
    baseURL: base,
    viewport: { width, height },
    colorScheme: scheme,
    reducedMotion: 'reduce',
    locale: 'en-GB',
  });
  const person = people.find((p) => p.name === who);
  if (person)
    await context.request.post('/api/session', { data: { email: person.email, password: person.password } });
  const page = await context.newPage();
  const target = typeof path === 'function' ? await path(context.request) : path;
  await page.goto(target);
  await page.getByRole('heading').first().waitFor({ state: 'attached' });
  await page.waitForTimeout(900);
  await before?.(page);
  await page.screenshot({ path: join(root, 'docs', 'screenshots', `${file}.png`) });
  await context.close();
  say(file);
}

const post = (query, view) => async (request) =>
  view((await (await request.get(`/api/posts?${query}`)).json()).posts[0]);
await shoot('today', 'Mara Winslow', '/desk/today');
await shoot('planner', 'Mara Winslow', '/desk/planner');
await shoot('plan', 'Mara Winslow', '/desk/planner?plan=fill&weeks=6', {
  before: async (page) => {
    await page.getByRole('button', { name: 'Work out again' }).waitFor();
    await page
      .getByRole('button', { name: /^Why: / })
      .first()
      .click();
    await page.locator('[data-draft]').first().scrollIntoViewIfNeeded();
    await page.waitForTimeout(500);
  },
});
await shoot('person', 'Mara Winslow', async (request) => {
  const everybody = await (await request.get('/api/people')).json();
  return `/desk/roster/${everybody.find((p) => p.name === 'Isla Nettle').id}`;
});
const inReview = post('stage=in+review', (p) => `/desk/posts/${p.id}`);
// Somebody else is in the text.
const other = await browser.newContext({ baseURL: base });
const { email, password } = people.find((p) => p.name === 'Mara Winslow');
await other.request.post('/api/session', { data: { email, password } });
const there = await other.newPage();
await there.goto(await inReview(other.request));
await there.getByRole('textbox', { name: 'Text of the post' }).locator('p').nth(1).click();
await shoot('desk', 'Edda Thorne', '/desk/desk');
await shoot('writing', 'Edda Thorne', inReview, {
  before: async (page) => {
    await page.getByRole('tab', { name: /^Notes/ }).click();
    await there.keyboard.press('Home');
    await page.waitForTimeout(600);
  },
});
await other.close();
await shoot('letter', 'Mara Winslow', '/desk/outlets/letters/7');
await shoot('results', 'Mara Winslow', '/desk/results');
await shoot('special', 'Mara Winslow', '/desk/archive/specials/1', {
  before: async (page) => {
    await page.frameLocator('iframe').getByRole('heading').first().waitFor();
    await page.waitForTimeout(500);
  },
});
await shoot('archive', 'Mara Winslow', '/desk/archive?line=category:"Engine+room"+released:..2026-06', {
  before: async (page) => {
    await page.getByRole('grid').focus();
    await page.keyboard.press('Control+a');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press(' ');
    for (const [kind, field, value] of [
      ['Byline becomes …', /^Byline/, 'Isla Nettle'],
      ['Campaign becomes …', /^Campaign/, 'From the old engine shed'],
    ]) {
      await choose(page.getByRole('combobox', { name: 'Add a change' }), kind);
      if (kind.startsWith('Byline')) await choose(page.getByRole('combobox', { name: field }), value);
      else await page.getByLabel(field).fill(value);
      await page.getByRole('button', { name: 'Add this change' }).click();
    }
    await page.getByRole('button', { name: /^Apply to/, disabled: false }).waitFor();
  },
});
await shoot(
  'spinoffs',
  'Mara Winslow',
  post('stage=published&words=raw+water+pump', (p) => `/desk/posts/${p.id}/spinoffs`),
  { height: 900, before: (page) => page.waitForTimeout(1500) },
);
await shoot('outlets', 'Mara Winslow', '/desk/outlets?look=1', {
  before: (page) => page.waitForTimeout(400),
});
await shoot('site', 'Mara Winslow', '/desk/site');
await shoot('comments', 'Mara Winslow', '/desk/comments');
await shoot('serials', 'Mara Winslow', '/desk/planner/serials', {
  height: 1300,
  before: (page) => page.waitForTimeout(1500),
});
await shoot('phone', 'Jun Marlowe', '/desk/capture', { width: 390, height: 844 });
await shoot('acting', 'Mara Winslow', '/', {
  before: async (page) => {
    await page
      .getByRole('button', { name: /what you can do$/ })
      .nth(1)
      .click();
    await page.waitForTimeout(300);
  },
});
await shoot('front-page', '', '/');
await shoot(
  'post',
  '',
  async (request) => new URL((await (await request.get('/feed.json')).json()).items[0].url).pathname,
);
await browser.close();
