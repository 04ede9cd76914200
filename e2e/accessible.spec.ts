import AxeBuilder from '@axe-core/playwright';
import { expect } from '@playwright/test';
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
      if (/serials|letters\/|specials\//.test(view)) await expect(page.locator('iframe')).toBeVisible();
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
