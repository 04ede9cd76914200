import { expect, type Page } from '@playwright/test';
import { comeIn, newPage, test } from './people.js';

const undo = (page: Page) => page.getByRole('button', { name: 'Undo' });

test('a reader finds posts by word, writer and month, and goes on from one to those like it', async ({
  browser,
}) => {
  const reader = await newPage(browser);
  await reader.goto('/');
  const panels = reader.getByRole('complementary', { name: 'Beside the posts' });
  await panels.getByRole('searchbox', { name: 'Search Halfway Lock' }).fill('slow stove');
  await reader.keyboard.press('Enter');
  await expect(reader.getByRole('status')).toContainText('post');
  await expect(reader.locator('mark').first()).toHaveText(/stove|slow/i);
  await reader.getByRole('link', { name: 'Lentils, leeks and a slow stove' }).first().click();
  await expect(reader.getByRole('heading', { level: 1 })).toHaveText('Lentils, leeks and a slow stove');
  await reader.getByRole('link', { name: 'Jun Marlowe', exact: true }).first().click();
  await expect(reader.getByRole('heading', { level: 1, name: 'Jun Marlowe' })).toBeVisible();
  await reader.getByRole('link', { name: 'All months' }).last().click();
  await expect(reader.getByRole('heading', { name: 'All months' })).toBeVisible();
  await reader.goto('/lentils-and-leeks-slow');
  await expect(reader.getByRole('heading', { name: 'Perhaps it is one of these' })).toBeVisible();
});

test('the menu is put in order by keys alone, readers see it, and it is taken back', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/site/menu');
  const reader = await newPage(browser);
  const menu = () => reader.getByRole('navigation', { name: 'Menu' }).getByRole('link').allTextContents();
  await reader.goto('/');
  const before = await menu();
  await page.getByRole('button', { name: 'Move up: Writers' }).focus();
  await page.keyboard.press('Enter');
  // Once it is drawn anew: until then the button before it has the focus and the name.
  const lines = page.getByRole('button', { name: /^Move up: / });
  await expect(lines.nth(before.indexOf('Writers') - 1)).toHaveAccessibleName('Move up: Writers');
  await expect(page.getByRole('button', { name: 'Move up: Writers' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByText('Not saved yet')).toBeVisible();
  await reader.reload();
  expect(await menu()).toEqual(before);
  await page.getByRole('button', { name: 'Save', exact: true }).press('Enter');
  await expect(page.getByText('Saved. Readers see it now.')).toBeVisible();
  await expect(async () => {
    await reader.reload();
    expect((await menu()).indexOf('Writers')).toBe(before.indexOf('Writers') - 2);
  }).toPass();
  await undo(page).click();
  await expect(async () => {
    await reader.reload();
    expect(await menu()).toEqual(before);
  }).toPass();
});

test('a look is tried without a trace, applied to every post, and taken back', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/site/looks');
  const reader = await newPage(browser);
  await page.getByRole('radio', { name: /^Margin/ }).check();
  const drawn = page.frameLocator('iframe[title="The front page on a desk"]');
  await expect(drawn.locator('body')).toHaveClass(/look-margin/);
  await reader.goto('/');
  await expect(reader.locator('body')).toHaveClass(/look-press/);
  await expect(page.getByText(/This changes all \d+ posts for every reader/)).toBeVisible();
  await page.getByRole('button', { name: /^Apply/ }).click();
  await expect(page.getByText('Readers see the new look now.')).toBeVisible();
  await expect(async () => {
    await reader.reload();
    await expect(reader.locator('body')).toHaveClass(/look-margin/, { timeout: 500 });
  }).toPass();
  await undo(page).click();
  await expect(async () => {
    await reader.reload();
    await expect(reader.locator('body')).toHaveClass(/look-press/, { timeout: 500 });
  }).toPass();
});

test('somebody of two blogs goes from one to the other, and takes a pitch along', async ({ browser }) => {
  const page = await comeIn(browser, 'Jun Marlowe', '/desk/today');
  await page.getByRole('button', { name: /Halfway Lock/ }).click();
  await page.getByRole('menuitemradio', { name: 'Reed and Weir' }).click();
  await expect(page.getByRole('button', { name: /Reed and Weir/ })).toBeVisible();
  await page.goto('/desk/planner');
  await expect(page.getByText('Birds and beasts').first()).toBeVisible();
  await expect(page.getByText('Engine room')).toHaveCount(0);
  // Another tab of the same person is where it was chosen last; this one stays where it is.
  const other = await page.context().newPage();
  await other.goto('/desk/today');
  await other.getByRole('button', { name: /Reed and Weir/ }).click();
  await other.getByRole('menuitemradio', { name: 'Halfway Lock' }).click();
  await expect(other.getByRole('button', { name: /Halfway Lock/ })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('button', { name: /Reed and Weir/ })).toBeVisible();
});

test('the blog stands in the shop around it, under the menu of the shop', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/site/around');
  const shop = await page.getByRole('link', { name: /ropewalk\/journal/ }).getAttribute('href');
  const reader = await newPage(browser);
  await reader.goto(shop!);
  await expect(reader.getByRole('navigation', { name: 'Ropewalk Stores', exact: true })).toBeVisible();
  await expect(reader.getByRole('link', { name: 'Halfway Lock' }).first()).toBeVisible();
  await reader.getByRole('article').first().getByRole('heading').getByRole('link').click();
  expect(new URL(reader.url()).pathname).toMatch(/^\/ropewalk\/journal\//);
  await expect(reader.getByRole('link', { name: 'Repairs' })).toBeVisible();
  await reader.getByRole('link', { name: 'Repairs' }).click();
  await expect(reader.getByRole('heading', { name: 'Repairs' })).toBeVisible();
});
