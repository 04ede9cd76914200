import { expect } from '@playwright/test';
import { comeIn, newPage, saved, test, textOf } from './people.js';

test('a correction of a published post waits until it is put before its readers', async ({ browser }) => {
  const chief = await comeIn(browser, 'Mara Winslow');
  const found = await chief.request.get('/api/posts?stage=published&words=gates+forty+years');
  const { posts } = (await found.json()) as { posts: { id: number; slug: string; title: string }[] };
  const post = posts.find((p) => p.title.startsWith('She kept the gates'))!;
  const reader = await newPage(browser);
  await reader.goto(`/${post.slug}`);
  const before = await reader.getByRole('article').innerText();

  await chief.goto(`/desk/posts/${post.id}`);
  const word = `note ${Date.now() % 100_000}`;
  // A heading is short enough to be one line on the screen, whose end is its own.
  const heading = textOf(chief).getByRole('heading', { name: /^The pay/ });
  await heading.click();
  await chief.keyboard.press('End');
  await chief.keyboard.type(`, ${word}`);
  await saved(chief);
  const waits = chief.getByRole('group', { name: 'Changes that are not live yet' });
  await expect(waits).toBeVisible();
  await reader.reload();
  expect(await reader.getByRole('article').innerText()).toBe(before);

  // What it would change is shown first, and can be left.
  await waits.getByRole('button', { name: 'Update …' }).click();
  const dialog = chief.getByRole('dialog', { name: /^Update “She kept the gates/ });
  await expect(dialog.getByRole('insertion').filter({ hasText: word })).toBeVisible();
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await expect(waits).toBeVisible();
  await waits.getByRole('button', { name: 'Update …' }).click();
  await dialog.getByRole('button', { name: /^Update .*text/ }).click();
  await expect(chief.getByText('Updated. Readers see it as it is now.')).toBeVisible();
  await expect(waits).toBeHidden();
  await expect(async () => {
    await reader.reload();
    await expect(reader.getByRole('heading', { name: word })).toBeVisible({ timeout: 500 });
  }).toPass();

  // A small correction goes straight on, with one key.
  await heading.click();
  await chief.keyboard.press('End');
  await chief.keyboard.type('!');
  await chief.keyboard.press('Control+Alt+u');
  await expect(chief.getByText('Updated. Readers see it as it is now.')).toBeVisible();
  await expect(async () => {
    await reader.reload();
    await expect(reader.getByRole('heading', { name: `${word}!` })).toBeVisible({ timeout: 500 });
  }).toPass();
  await chief.reload();
  await expect(saved(chief)).resolves.toBeUndefined();
  await expect(waits).toBeHidden();
});
