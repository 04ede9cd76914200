import AxeBuilder from '@axe-core/playwright';
import { expect } from '@playwright/test';
import { comeIn, test } from './people.js';

const VIEWS = [
  '/desk/today',
  '/desk/planner?view=weeks',
  '/desk/planner?view=people',
  '/desk/planner?view=list',
  '/desk/planner/slots',
  '/desk/planner/absences',
  '/desk/planner/capacity',
  '/desk/planner/rhythm',
  '/desk/planner/calendars',
  '/desk/desk',
  '/desk/archive?panel=change',
  '/desk/archive?open=133&line=winter',
  '/desk/archive/batches',
  '/desk/archive/release-log',
  '/desk/posts/133/spinoffs',
  '/desk/outlets?look=4',
  '/desk/outlets/log',
  '/desk/outlets/patterns',
  '/desk/outlets/evergreen',
  '/desk/outlets/letters',
  '/desk/outlets/letters/6',
  '/desk/outlets/letters/7',
  '/desk/outlets/subscribers',
  '/desk/results?by=person',
  '/desk/results/posts/40',
  '/desk/roster',
  '/desk/roster/6',
  '/desk/roster/load',
  '/desk/planner?plan=fill',
  '/desk/invitation',
  '/desk/account',
  '/desk/site',
  '/desk/site/pages',
  '/desk/site/looks',
  '/desk/site/menu',
  '/desk/site/spotlight',
  '/desk/site/blogs',
  '/desk/site/around',
  '/desk/site/members',
  '/desk/comments',
  '/desk/planner/serials',
  '/desk/planner/campaigns',
  '/desk/capture',
  '/sign-in',
  '/hull-reeds-part-one',
  '/desk/posts/133',
  '/desk/posts/133/versions?from=1&to=4',
  '/desk/pictures?picture=3',
  '/desk/site/formats',
  '/desk/site/checklists',
  '/',
  '/category/galley',
  '/writer/isla-nettle',
  '/writers',
  '/archive',
  '/start',
  '/search?q=stove',
  '/nothing-at-all',
  '/reed/',
  '/reed/duckweed-plant-fast-one',
];

/** Built of nothing but the parts of other views, so that their colours are looked at there. */
const LIKE_OTHERS = [
  '/desk/planner/slots',
  '/desk/planner/capacity',
  '/desk/planner/calendars',
  '/desk/outlets/patterns',
  '/desk/outlets/evergreen',
  '/desk/outlets/letters',
  '/desk/outlets/letters/7',
  '/desk/invitation',
  '/desk/site/pages',
  '/desk/site/menu',
  '/desk/site/blogs',
  '/desk/site/members',
  '/desk/capture',
  '/writers',
  '/archive',
  '/start',
  '/nothing-at-all',
  '/reed/duckweed-plant-fast-one',
];

for (const scheme of ['light', 'dark'] as const) {
  test(`no accessibility violations in ${scheme} colours`, async ({ browser }) => {
    test.setTimeout(420_000);
    const page = await comeIn(browser, 'Mara Winslow');
    await page.emulateMedia({ colorScheme: scheme, reducedMotion: 'reduce' });
    const id = (
      (await (await page.request.get('/api/posts?stage=in+review&words=recorder')).json()) as {
        posts: { id: number }[];
      }
    ).posts[0]!.id;
    const post = (
      (await (await page.request.get('/api/posts?stage=published&limit=1')).json()) as {
        posts: { slug: string }[];
      }
    ).posts[0]!.slug;
    const views = scheme === 'light' ? VIEWS : VIEWS.filter((v) => !LIKE_OTHERS.includes(v));
    for (const view of [...views.map((v) => v.replace('133', String(id))), `/${post}`]) {
      await page.goto(view);
      await page.waitForLoadState('load');
      await expect(page.getByRole('heading').first()).toBeVisible();
      // A plan is looked at once it is worked out: until then it comes and goes.
      if (view.includes('plan='))
        await expect(page.getByRole('button', { name: 'Work out again' })).toBeVisible({ timeout: 20_000 });
      // What comes in a frame a moment later is waited for, to be taken out with the others.
      if (/serials|letters\//.test(view)) await expect(page.locator('iframe')).toBeVisible();
      // What is drawn in a frame runs no script, the checker's neither, which would wait for it; it is looked at by itself.
      await page.locator('iframe').evaluateAll((frames) => frames.forEach((f) => f.remove()));
      const checker = new AxeBuilder({ page });
      // Nothing but its colours is another in the dark.
      if (scheme === 'dark') checker.withRules(['color-contrast']);
      const { violations } = await checker.analyze();
      expect(
        violations.map(
          (v) =>
            `${view}: ${v.id}: ${v.nodes
              .slice(0, 3)
              .map((n) => n.html.slice(0, 140))
              .join(' | ')}`,
        ),
      ).toEqual([]);
    }
  });
}

test('on a phone the sections fold into a menu and nothing is wider than the screen', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow');
  await page.setViewportSize({ width: 390, height: 844 });
  await page.getByRole('button', { name: 'Sections' }).click();
  await page.getByRole('navigation', { name: 'Sections' }).getByRole('link', { name: 'Planner' }).click();
  await expect(page.getByRole('heading', { name: 'Planner' })).toBeVisible();
  for (const view of VIEWS.filter((v) => v.startsWith('/desk/') && !v.includes('/posts/'))) {
    await page.goto(view);
    await expect(page.getByRole('heading').first()).toBeVisible();
    expect(await page.evaluate(() => document.documentElement.scrollWidth), view).toBeLessThanOrEqual(390);
  }
});

test('a contributor sees no doors that are closed to them, and the server keeps them closed', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Isla Nettle');
  await expect(page.getByRole('link', { name: 'Site', exact: true })).toHaveCount(0);
  expect((await page.request.patch('/api/blog', { data: { title: 'Mine' } })).status()).toBe(403);
  await page.goto('/desk/planner');
  await expect(page.getByRole('button', { name: /^The barometer at lock 22/ })).toBeVisible();
  await page.goto('/desk/desk?whose=mine');
  await page.getByRole('link', { name: /Who mended the clock/ }).click();
  await expect(page.getByRole('button', { name: 'Hand in', exact: true })).toBeVisible();
  await expect(page.getByRole('button', { name: /Schedule|Clear/ })).toHaveCount(0);
});

test('a reader is shown to the blog', async ({ page }) => {
  await page.goto('/desk/');
  await page.getByRole('button', { name: /Dot Pascoe/ }).click();
  await expect(page.getByRole('heading', { name: 'The newsroom is closed to readers' })).toBeVisible();
  await page.goto('/desk/planner');
  await expect(page.getByRole('link', { name: 'To the blog' })).toBeVisible();
});

test('two people see each other’s moves in the planner as they are made', async ({ browser }) => {
  const [one, two] = [
    await comeIn(browser, 'Mara Winslow', '/desk/planner'),
    await comeIn(browser, 'Edda Thorne', '/desk/planner'),
  ];
  await one.getByLabel('Type a pitch, Enter to save it').fill('Seen by both');
  await one.getByLabel('Type a pitch, Enter to save it').press('Enter');
  await expect(two.getByRole('button', { name: /^Seen by both, pitch/ })).toBeVisible({ timeout: 60_000 });
});
