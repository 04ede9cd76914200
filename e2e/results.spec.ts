import { expect, type Locator } from '@playwright/test';
import { comeIn, test } from './people.js';

const numberOf = (text: string): number => Number(text.replace(/[^\d]/g, ''));
const column = async (table: Locator, n: number): Promise<number[]> => {
  const rows = await table.getByRole('row').all();
  const cells = await Promise.all(rows.slice(1).map((row) => row.getByRole('cell').nth(n).textContent()));
  return cells.map((text) => numberOf(text ?? ''));
};

test('the figures of a month are read off the tables of the charts, and agree with each other', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Edda Thorne', '/desk/results');
  await page.getByRole('radio', { name: 'Four weeks' }).click();
  await expect(page).toHaveURL(/from=\d{4}-\d\d-\d\d&to=/);
  const days = page.getByRole('table', { name: 'Reads a day' });
  await page.getByRole('button', { name: 'The same as a table' }).press('Enter');
  await expect(days.getByRole('row')).toHaveCount(29);
  const reads = await column(days, 1);
  const total = page.getByRole('definition').first();
  const sum = reads.reduce((a, b) => a + b, 0);
  expect(sum).toBeGreaterThan(1000);
  await expect(total).toContainText(sum.toLocaleString('en-GB'));
  const before = (await column(days, 2)).reduce((a, b) => a + b, 0);
  await expect(total).toContainText(`${before.toLocaleString('en-GB')} before`);

  // A year by category: the one that the demo's readers like best stands out, beyond chance.
  await page.getByRole('radio', { name: 'Year' }).click();
  const well = page.getByRole('table', { name: 'What does well' });
  const first = well.getByRole('row').nth(1);
  await expect(first).toContainText('Lock-keepers');
  await expect(first).toContainText('more than the others');
  const medians = await column(well, 2);
  expect([...medians].sort((a, b) => b - a)).toEqual(medians);
  await page.getByRole('radio', { name: 'Hour' }).press('Space');
  await expect(page).toHaveURL(/by=hour/);
  await page.reload();
  await expect(page.getByRole('radio', { name: 'Hour' })).toBeChecked();
  const outlets = page.getByRole('table', { name: 'Outlets' });
  await expect(outlets.getByRole('row').filter({ hasText: 'Towline' })).toContainText('seen most at 12:00');

  const link = page.getByRole('table', { name: 'Most read posts' }).getByRole('link').first();
  const title = (await link.textContent())!;
  await link.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: title })).toBeVisible();
  await expect(page.getByRole('definition').first()).toHaveText(/\d/);
  const file = page.waitForEvent('download');
  await page.goto('/desk/results');
  await page.getByRole('link', { name: 'Export (CSV)' }).click();
  expect((await file).suggestedFilename()).toBe('results.csv');
  // Not for who only corrects.
  const proofreader = await comeIn(browser, 'Cyril Fenn', '/desk/results');
  await expect(proofreader.getByText('not open to you')).toBeVisible();
});
