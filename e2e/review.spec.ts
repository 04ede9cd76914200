import { expect } from '@playwright/test';
import { choose, comeIn, commission, saved, test, textOf } from './people.js';

test('what waits is read one after the other, with a word, and reassigned', async ({ browser }) => {
  const chief = await comeIn(browser, 'Mara Winslow');
  const name = `Handed in ${Date.now() % 100_000}`;
  const id = await commission(chief, name, 'Tobias Orme');
  const writer = await comeIn(browser, 'Tobias Orme', `/desk/posts/${id}`);
  await textOf(writer).click();
  await writer.keyboard.type('Drain it, then open the tap.');
  await saved(writer);
  await writer.getByRole('button', { name: 'Hand in with a word …' }).click();
  await writer.getByRole('textbox', { name: 'A word to the reviewer' }).fill('The part numbers are checked.');
  await writer.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(writer.getByText('Handed in.')).toBeVisible();

  await chief.goto('/desk/desk');
  const waits = chief.getByRole('region', { name: 'Waits for you' });
  const item = waits.getByRole('link', { name: new RegExp(name) });
  await expect(item).toContainText('Tobias Orme, handed in today');
  await expect(item).toContainText('The part numbers are checked.');
  await expect(item).toContainText('1 open note');
  await item.click();

  await chief.getByRole('button', { name: 'Reassign …' }).click();
  await choose(chief.getByRole('combobox', { name: 'Who reads it' }), 'Halden Byre');
  await chief.getByRole('button', { name: 'Reassign', exact: true }).click();
  await expect(chief.getByText('It waits for Halden Byre now.').first()).toBeVisible();
  await expect(chief.getByText('Halden Byre reads it.')).toBeVisible();
  await chief.getByRole('link', { name: 'Desk' }).first().click();
  await expect(waits).toBeVisible();
  await expect(item).toBeHidden();

  const halden = await comeIn(browser, 'Halden Byre', '/desk/desk');
  const his = halden.getByRole('region', { name: 'Waits for you' });
  await his.getByRole('link', { name: new RegExp(name) }).click();
  await halden.getByRole('button', { name: 'Ask for changes' }).click();
  await halden.getByRole('textbox', { name: 'What should change?' }).fill('Say which tap.');
  await halden.getByRole('button', { name: /^Ask Tobias Orme for changes/ }).click();
  await expect(halden.getByText('Changes asked for.')).toBeVisible();
  await halden.goto('/desk/desk');
  await expect(halden.getByRole('heading', { name: 'Being written' })).toBeVisible();
  await expect(his.getByRole('link', { name: new RegExp(name) })).toBeHidden();
});
