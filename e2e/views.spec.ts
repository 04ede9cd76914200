import { expect } from '@playwright/test';
import { comeIn, test } from './people.js';
import { VIEWS } from './views.js';

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
