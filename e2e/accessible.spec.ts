import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { comeIn, test } from './people.js';
import { VIEWS } from './views.js';

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

/** So many views a test: each is done well within its time, and two are looked at side by side. */
const A_TEST = 12;
test.describe.configure({ mode: 'parallel' });

for (let from = 0; from < VIEWS.length; from += A_TEST)
  test(`no accessibility violations, in light and in dark colours, from view ${from + 1} on`, async ({
    browser,
  }) => {
    const page = await comeIn(browser, 'Mara Winslow');
    const first = async (query: string) =>
      (
        (await (await page.request.get(`/api/posts?${query}`)).json()) as {
          posts: { id: number; slug: string }[];
        }
      ).posts[0]!;
    const { id } = await first('stage=in+review&words=recorder');
    const { slug } = await first('stage=published&limit=1');
    const views = VIEWS.slice(from, from + A_TEST);
    for (const view of from === 0 ? [...views, `/${slug}`] : views) await look(page, view, String(id));
  });

async function look(page: Page, view: string, inReview: string): Promise<void> {
  await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' });
  await page.goto(view.replace('133', inReview));
  await page.waitForLoadState('load');
  await expect(page.getByRole('heading').first()).toBeVisible();
  // A plan is looked at once it is worked out: until then it comes and goes.
  if (view.includes('plan='))
    await expect(page.getByRole('button', { name: 'Work out again' })).toBeVisible({ timeout: 20_000 });
  // What comes in a frame a moment later is waited for, to be taken out with the others.
  if (/serials|letters\/|specials\//.test(view)) await expect(page.locator('iframe')).toBeVisible();
  // What is drawn in a frame runs no script, the checker's neither, which would wait for it; it is looked at by itself.
  await page.locator('iframe').evaluateAll((frames) => frames.forEach((f) => f.remove()));
  // In this page alone: a second one for the findings does not always open while two tests run.
  const checker = (...rules: string[]) =>
    new AxeBuilder({ page })
      .setLegacyMode()
      // What is in order is not written down, which takes as long as finding what is not.
      .options({ resultTypes: ['violations'], ...(rules.length > 0 ? { runOnly: rules } : {}) });
  await none(view, checker());
  if (LIKE_OTHERS.includes(view)) return;
  await page.emulateMedia({ colorScheme: 'dark', reducedMotion: 'reduce' });
  // Colours that change slowly are looked at once they have changed.
  await page.evaluate(async () => {
    await new Promise(requestAnimationFrame);
    for (const a of document.getAnimations()) if (a instanceof CSSTransition) a.finish();
  });
  // Nothing but its colours is another in the dark.
  await none(`${view} in the dark`, checker('color-contrast'));
}

async function none(where: string, checker: AxeBuilder): Promise<void> {
  const { violations } = await checker.analyze();
  expect(
    violations.map(
      (v) =>
        `${where}: ${v.id}: ${v.nodes
          .slice(0, 3)
          .map((n) => n.html.slice(0, 140))
          .join(' | ')}`,
    ),
  ).toEqual([]);
}
