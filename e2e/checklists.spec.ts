import { expect } from '@playwright/test';
import { comeIn, test } from './people.js';

test('a checklist comes to its posts, stands on Today and on the card, and is ticked', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/site/checklists');
  await page.getByRole('button', { name: 'New checklist' }).click();
  await page.getByLabel('Name of the checklist').fill('Sound');
  await page.getByRole('checkbox', { name: 'Galley' }).check();
  await page.getByLabel('Item 1', { exact: true }).fill('Record the sizzle');
  await page.getByLabel('Days before, item 1').fill('1');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Saved “Sound”. Posts under way that it is for have it now.')).toBeVisible();

  const writer = await comeIn(browser, 'Jun Marlowe', '/desk/today');
  const chores = writer.getByRole('region', { name: 'Your chores' });
  await chores.getByRole('link', { name: /Record the sizzle.*Bread in a bow-top oven/ }).click();
  const list = writer.getByRole('list', { name: 'Checklist' });
  await list.getByRole('checkbox', { name: 'Record the sizzle' }).check();
  await expect(list.getByText('done by Jun Marlowe').first()).toBeVisible();
  await writer.reload();
  await expect(list.getByRole('checkbox', { name: 'Record the sizzle' })).toBeChecked();

  await page.goto('/desk/planner?view=list');
  const row = page.getByRole('row', { name: /Bread in a bow-top oven/ });
  await expect(row).toContainText('Read aloud, once');
  await expect(row).not.toContainText('Record the sizzle');

  await page.goto('/desk/site/checklists');
  await page.getByRole('button', { name: /^Sound/ }).click();
  await page.getByRole('button', { name: 'Delete', exact: true }).click();
  await page.getByRole('alertdialog').getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByRole('button', { name: /^Sound/ })).toHaveCount(0);
});
