import { mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { expect } from '@playwright/test';
import { unzipSync } from 'fflate';
import { comeIn, newPage, tabTo, test } from './people.js';

const TITLE = 'Keepers of the upper locks';

test('an editor builds a special by keyboard, publishes it, and takes it along as files', async ({
  browser,
}, info) => {
  const page = await comeIn(browser, 'Edda Thorne', '/desk/archive/specials');
  await expect(page.getByRole('link', { name: 'A winter on the water' })).toBeVisible();
  await page.getByLabel('Title of a new special').fill(TITLE);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: TITLE })).toBeVisible();
  await expect(page.getByText('No post is in it yet.')).toBeVisible();
  await page.getByRole('button', { name: 'Publish' }).press('Enter');
  await expect(page.getByText('None of its posts can be read by everybody yet')).toBeVisible();

  const parts = page.getByRole('list', { name: 'Posts of the special' }).getByRole('listitem');
  for (const words of [
    'She kept the gates for forty years',
    'Frost on the Hallow Steps',
    'Bread in a cold boat',
  ]) {
    const picker = page.getByRole('combobox', { name: 'Add a post' });
    const before = await parts.count();
    await picker.fill(words);
    await expect(page.getByRole('option').first()).toContainText(words);
    await picker.press('ArrowDown');
    await picker.press('Enter');
    await expect(parts).toHaveCount(before + 1);
  }
  const up = page.getByRole('button', { name: 'Move up: Frost on the Hallow Steps' });
  await tabTo(page, up);
  await page.keyboard.press('Enter');
  await expect(parts.first()).toContainText('Frost on the Hallow Steps');
  await page.getByRole('textbox', { name: 'What it is about' }).fill('Three who stayed.');
  await page.getByRole('radio', { name: /^Column/ }).press('Space');
  // The picture beside it shows what is not saved yet.
  const drawn = page.frameLocator('iframe[title="The special as readers will have it"]');
  await expect(drawn.getByText('Three who stayed.')).toBeVisible();
  await page.getByRole('button', { name: 'Publish' }).press('Enter');
  const address = page.getByText('Readers have it at').getByRole('link');
  await expect(address).toBeVisible();
  await page.reload();
  await expect(parts.first()).toContainText('Frost on the Hallow Steps');
  await expect(page.getByRole('radio', { name: /^Column/ })).toBeChecked();

  // A reader goes through it from post to post.
  const reader = await newPage(browser);
  await reader.goto((await address.getAttribute('href'))!);
  await expect(reader.getByRole('heading', { level: 1, name: TITLE })).toBeVisible();
  await reader
    .getByRole('heading', { level: 2, name: 'Frost on the Hallow Steps' })
    .getByRole('link')
    .click();
  await expect(reader.getByRole('heading', { level: 1, name: 'Frost on the Hallow Steps' })).toBeVisible();
  await reader.getByRole('link', { name: /^Next/ }).click();
  await expect(reader.getByRole('heading', { level: 1 })).toContainText('forty years');

  // The files are read where there is no connection at all.
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Export (zip)' }).click();
  const file = await download;
  expect(file.suggestedFilename()).toMatch(/\.zip$/);
  const folder = info.outputPath('special');
  const files = unzipSync(new Uint8Array(await readFile(await file.path())));
  for (const [name, bytes] of Object.entries(files)) {
    await mkdir(dirname(join(folder, name)), { recursive: true });
    await writeFile(join(folder, name), bytes);
  }
  const away = await newPage(browser);
  await away.context().setOffline(true);
  const lost: string[] = [];
  away.on('requestfailed', (request) => lost.push(request.url()));
  await away.goto(pathToFileURL(join(folder, 'index.html')).href);
  await away.getByRole('heading', { level: 2, name: 'Frost on the Hallow Steps' }).getByRole('link').click();
  await expect(away.getByRole('heading', { level: 1, name: 'Frost on the Hallow Steps' })).toBeVisible();
  const pictures = await away.getByRole('img').all();
  expect(pictures.length).toBeGreaterThan(0);
  for (const picture of pictures)
    await expect.poll(() => picture.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBeGreaterThan(0);
  const faces = () => [...document.fonts].filter((f) => f.status === 'loaded').length;
  await expect.poll(() => away.evaluate(faces)).toBeGreaterThan(0);
  await away.getByRole('link', { name: 'All of it' }).click();
  await expect(away.getByRole('heading', { level: 1, name: TITLE })).toBeVisible();
  expect(lost).toEqual([]);
  await rm(folder, { recursive: true });
});

test('a special says where a post was withdrawn, and is taken from readers and given back', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/archive/specials');
  await page.getByRole('link', { name: 'A winter on the water' }).click();
  await expect(page.getByText('1 post withdrawn, which the special says')).toBeVisible();
  const reader = await newPage(browser);
  await reader.goto('/special/winter-on-the-water/');
  await expect(reader.getByText('What stood here was withdrawn.')).toBeVisible();
  await expect(reader.getByText('A letter to new contributors')).toHaveCount(0);
  await page.getByRole('button', { name: 'Unpublish' }).click();
  await expect(page.getByText('Nobody sees it yet.')).toBeVisible();
  // The newsroom hears of it a moment before the readers' pages do.
  const status = async () => (await reader.goto('/special/winter-on-the-water/'))!.status();
  await expect.poll(status).toBe(404);
  await page.locator('mat-snack-bar-container').getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Readers have it at')).toBeVisible();
  await expect.poll(status).toBe(200);
  // Writers build none.
  const writer = await comeIn(browser, 'Isla Nettle', '/desk/archive/specials');
  await expect(writer.getByText('not open to you')).toBeVisible();
});
