import { expect } from '@playwright/test';
import { comeIn, commission, saved, tabTo, test, textOf } from './people.js';

test('a note tells whom it mentions, once they may see the post, until they have read it', async ({
  browser,
}) => {
  const chief = await comeIn(browser, 'Mara Winslow');
  const title = `Called by name ${Date.now() % 100_000}`;
  const id = await commission(chief, title, 'Tobias Orme');
  const writer = await comeIn(browser, 'Tobias Orme', `/desk/posts/${id}`);
  await textOf(writer).click();
  await writer.keyboard.type('Open the gate slowly.');
  await saved(writer);

  // With the keyboard alone: the name is offered after the @ and taken with Enter.
  await chief.goto(`/desk/posts/${id}`);
  await chief.getByRole('tab', { name: /^Notes/ }).click();
  const note = chief.getByLabel('Your note on the whole post');
  await note.focus();
  await chief.keyboard.type('Is it so, @Cyr');
  await expect(chief.getByRole('option', { name: /^Cyril Fenn/ })).toBeVisible();
  await chief.keyboard.press('Enter');
  await expect(note).toHaveValue('Is it so, @Cyril Fenn ');
  await chief.keyboard.type('?');
  await tabTo(chief, chief.getByRole('button', { name: 'Save the note' }));
  await chief.keyboard.press('Enter');
  await expect(chief.getByText('Cyril Fenn cannot see this post, and is not told.')).toBeVisible();
  const cyril = await comeIn(browser, 'Cyril Fenn', '/desk/today');
  await expect(cyril.getByRole('heading', { level: 1 })).toBeVisible();
  await expect(cyril.getByText(title)).toBeHidden();

  await chief.getByRole('tab', { name: 'Details' }).click();
  await chief.getByLabel('Proofreader', { exact: true }).click();
  await chief.getByRole('option', { name: 'Cyril Fenn' }).click();
  const mentions = cyril.getByRole('region', { name: 'Mentions of you' });
  await mentions.getByRole('link', { name: new RegExp(title) }).click();
  await expect(cyril.getByText('@Cyril Fenn', { exact: true })).toBeVisible();
  await cyril.goto('/desk/today');
  await expect(cyril.getByRole('heading', { level: 1 })).toBeVisible();
  await expect(mentions.getByText(title)).toBeHidden();
});

test('a key lets a writing tool bring a draft, until it is ended', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow');
  await page.getByRole('button', { name: 'Mara Winslow, menu' }).click();
  await page.getByRole('menuitem', { name: 'Your account' }).click();
  await page.getByRole('button', { name: 'Make a key' }).click();
  await expect(page.getByText('Say what the key is for.')).toBeVisible();
  const tool = `Typewriter ${Date.now() % 100_000}`;
  await page.getByLabel('What the key is for').fill(tool);
  await page.getByRole('button', { name: 'Make a key' }).click();
  const secret = await page.getByLabel(/^The new key/).inputValue();
  const endpoint = await page.getByLabel(/^Address for the program/).inputValue();
  const send = () =>
    page.request.post(endpoint, {
      headers: { Authorization: `Bearer ${secret}` },
      data: { type: ['h-entry'], properties: { name: [`Typed with ${tool}`], content: ['One.\n\nTwo.'] } },
    });
  const answer = await send();
  expect(answer.status()).toBe(201);
  await page.goto(answer.headers()['location']!);
  await expect(textOf(page).locator('p')).toHaveText(['One.', 'Two.']);
  await page.getByRole('link', { name: 'Earlier versions, and what changed' }).click();
  await expect(page.getByText(`Mara Winslow: began it with ${tool}`)).toBeVisible();

  await page.goto('/desk/account');
  await expect(page.getByText(secret)).toBeHidden();
  await page.getByRole('button', { name: `End the key ${tool}` }).click();
  await page.getByRole('alertdialog').getByRole('button', { name: 'End the key' }).click();
  await expect(page.getByText(`The key “${tool}” has ended.`).first()).toBeVisible();
  expect((await send()).status()).toBe(403);
});
