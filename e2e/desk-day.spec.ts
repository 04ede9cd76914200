import { expect } from '@playwright/test';
import { chooseTab, comeIn, commission, saved, tabTo, test, textOf } from './people.js';

test('a contributor’s whole day by keyboard', async ({ browser }) => {
  test.setTimeout(150_000);
  const chief = await comeIn(browser, 'Mara Winslow');
  await commission(chief, 'A day at the weed hatch', 'Tobias Orme');
  const page = await comeIn(browser, 'Tobias Orme');

  await test.step('finds the commission and opens it', async () => {
    await page.keyboard.press('/');
    await expect(page.getByRole('combobox', { name: 'Find or do anything' })).toBeFocused();
    await page.keyboard.type('A day at the weed hatch');
    await expect(page.getByRole('option', { name: /A day at the weed hatch/ })).toHaveAttribute(
      'aria-selected',
      'true',
    );
    await page.keyboard.press('Enter');
  });

  await test.step('writes, with blocks typed and chosen', async () => {
    await tabTo(page, textOf(page));
    await page.keyboard.type('Open the hatch slowly and look for the line.');
    await page.keyboard.press('Enter');
    await page.keyboard.type('## What floats up');
    await page.keyboard.press('Enter');
    await page.keyboard.type('- rope');
    await page.keyboard.press('Enter');
    await page.keyboard.type('weed');
    await page.keyboard.press('Enter');
    await page.keyboard.press('Enter');
    await page.keyboard.press('+');
    await expect(page.getByRole('combobox', { name: 'Which block?' })).toBeFocused();
    await page.keyboard.type('note');
    await page.keyboard.press('Enter');
    await page.keyboard.type('Stop the engine first.');
    await expect(textOf(page).getByRole('heading', { level: 2, name: 'What floats up' })).toBeVisible();
    await expect(textOf(page).getByRole('listitem')).toHaveText(['rope', 'weed']);
    await page.keyboard.press('Alt+Shift+ArrowUp');
    await expect(textOf(page).locator('> *').nth(2)).toHaveText('Stop the engine first.');
    await saved(page);
  });

  await test.step('a plus is still a plus', async () => {
    await page.keyboard.press('Control+End');
    await page.keyboard.press('Enter');
    await page.keyboard.press('Enter');
    await page.keyboard.press('+');
    await expect(page.getByRole('combobox', { name: 'Which block?' })).toBeFocused();
    await page.keyboard.press('Space');
    await page.keyboard.type('two more');
    await expect(textOf(page).getByText('+ two more')).toBeVisible();
  });

  await test.step('tries titles, keeps them, and makes one the title', async () => {
    await tabTo(page, page.getByRole('tab', { name: /^(Checks|Notes)/, selected: true }));
    await chooseTab(page, page.getByRole('tab', { name: 'Titles' }), 'ArrowRight');
    await tabTo(page, page.getByLabel('A title to try'));
    await page.keyboard.type('Seven things that stop your propeller');
    await expect(page.getByText('It has a number: “Seven”.')).toBeVisible();
    await expect(page.getByText('37 characters; about 55 are usual, 60 at most.')).toBeVisible();
    await page.keyboard.press('Enter');
    await tabTo(page, page.getByRole('button', { name: 'Make it the title' }));
    await page.keyboard.press('Enter');
    await expect(page.getByLabel('Title', { exact: true })).toHaveValue(
      'Seven things that stop your propeller',
    );
    // What stood before is among the trials.
    await expect(
      page.getByRole('tabpanel').getByRole('button', { name: /^A day at the weed hatch/ }),
    ).toBeVisible();
  });

  await test.step('fills in what the checks ask for', async () => {
    await tabTo(page, page.getByRole('tab', { name: 'Titles' }));
    await chooseTab(page, page.getByRole('tab', { name: /^Checks/ }), 'ArrowLeft');
    await tabTo(page, page.getByRole('button', { name: 'Add one: No tag' }));
    await page.keyboard.press('Enter');
    await expect(page.getByLabel('Add a tag')).toBeFocused();
    await page.keyboard.type('propellers');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('button', { name: 'Remove the tag propellers' })).toBeVisible();
    await page.keyboard.type('moorngs');
    await expect(page.getByText(/There is “moorings” already/)).toBeVisible();
    await page.keyboard.press('Control+a');
    await page.keyboard.press('Delete');
    await tabTo(page, page.getByLabel('Title', { exact: true }), 260);
    await page.keyboard.press('Tab');
    await page.keyboard.type('What comes up when you open the hatch, and what to do about it.');
    await saved(page);
  });

  await test.step('reads it alone, and hands it in', async () => {
    await tabTo(page, textOf(page));
    await page.keyboard.press('Control+Alt+Enter');
    await expect(page.getByRole('navigation', { name: 'Sections' })).toBeHidden();
    await page.keyboard.press('Escape');
    await expect(page.getByRole('navigation', { name: 'Sections' })).toBeVisible();
    await tabTo(page, page.getByRole('button', { name: 'Hand in', exact: true }));
    await page.keyboard.press('Enter');
    await expect(page.getByText('Handed in.')).toBeVisible();
  });
});
