import { expect } from '@playwright/test';
import { comeIn, test, choose } from './people.js';

test('three ways to see the same posts, in the address and remembered', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/planner');
  await page.getByRole('radio', { name: 'Run list' }).click();
  await expect(page).toHaveURL(/view=list/);
  const late = page.getByRole('row', { name: /Bread in a bow-top oven/ });
  await expect(late).toContainText(/an answer to 1 note, .*handing in/);
  await choose(page.getByLabel('Only one person'), 'Jun Marlowe');
  await expect(page).toHaveURL(/person=\d+/);
  await expect(page.getByRole('row', { name: /Tobias Orme/ })).toHaveCount(0);
  await page.goBack();
  await expect(page.getByRole('row', { name: /Tobias Orme/ }).first()).toBeVisible();
  await page.getByRole('radio', { name: 'By person' }).click();
  await expect(
    page
      .getByRole('row', { name: /^JM? ?Jun Marlowe/ })
      .or(page.getByRole('row', { name: /Jun Marlowe/ }))
      .first(),
  ).toContainText('1 of 1');
  await page.goto('/desk/planner');
  await expect(page.getByRole('radio', { name: 'By person' })).toBeChecked();
  await page.getByRole('radio', { name: 'Weeks', exact: true }).click();
  await page.getByRole('button', { name: /^Show:/ }).click();
  await page.getByRole('menuitemcheckbox', { name: 'excerpt' }).click();
  await page.keyboard.press('Escape');
  await expect(
    page.getByText('What I learned from a travelling baker with a stove on wheels.'),
  ).toBeVisible();
  await page.reload();
  await expect(
    page.getByText('What I learned from a travelling baker with a stove on wheels.'),
  ).toBeVisible();
});

test('a card says what is wrong with a date before it lands, and afterwards', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/planner');
  const pitch = page.getByRole('button', { name: /^Every milepost, in a day, pitch/ });
  await pitch.focus();
  await page.keyboard.press('Space');
  // The line under the tools; the same words may stand on cards and in what is read out.
  const against = page.getByRole('status', { name: 'What is against the date' });
  await expect(against).toHaveText(/^\w+day \d+ \w+, \d\d:\d\d: \S/);
  // On to a day that has something against it; which one it is depends on the day of the year.
  const conflict = /runs on the same day|slot is taken by/;
  for (let i = 0; i < 9 && !conflict.test(await against.innerText()); i++) {
    const before = await against.innerText();
    await page.keyboard.press('ArrowRight');
    await expect(against).not.toHaveText(before);
  }
  await expect(against).toHaveText(conflict);
  await page.keyboard.press('Space');
  await page
    .getByRole('dialog', { name: 'Every milepost, in a day' })
    .getByRole('button', { name: 'Close' })
    .click();
  const card = page.getByRole('button', { name: /^Every milepost, in a day, commissioned/ });
  await expect(card.getByRole('img', { name: /runs on the same day|slot is taken by/ })).toBeVisible();
  await card.focus();
  await page.keyboard.press('m');
  await page.getByRole('button', { name: 'Back to the tray', exact: true }).click();
  await expect(pitch).toBeVisible();
});

test('what is past hope is swept back in one action, and the sweep taken back', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/planner');
  const bar = page.getByRole('region', { name: 'Late', exact: true });
  await expect(bar).toContainText('Ice on the long pound, if it comes');
  // Four when the demo was loaded; midnight may have come since.
  await expect(bar).toContainText(/was to run [45] days ago/);
  await bar.getByRole('button', { name: 'Return 1 late post to the tray' }).click();
  await expect(page.getByText('1 late post returned to the tray.')).toBeVisible();
  await expect(
    page.getByRole('button', { name: /^Ice on the long pound, if it comes, pitch/ }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(bar).toContainText('Ice on the long pound, if it comes');
});

test('forty pitches in a row without the mouse, and a list pasted', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/planner');
  const line = page.getByLabel('Type a pitch, Enter to save it');
  await expect(page.getByText(/^\d+ waiting$/)).toBeVisible();
  const before = Number.parseInt((await page.getByText(/^\d+ waiting$/).textContent()) ?? '0', 10);
  await line.focus();
  for (let i = 1; i <= 40; i++) {
    await page.keyboard.insertText(`Thought ${i}`);
    await page.keyboard.press('Enter');
  }
  await expect(page.getByText(`${before + 40} waiting`)).toBeVisible({ timeout: 60_000 });
  await expect(line).toBeFocused();
  await line.evaluate((el) => {
    const data = new DataTransfer();
    data.setData('text/plain', '- First of a list\n2. Second of a list\n\n• Third of a list');
    el.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  });
  await expect(page.getByRole('button', { name: /^Third of a list, pitch/ })).toBeVisible();
  await expect(page.getByText(`${before + 43} waiting`)).toBeVisible();
});

test('on a phone a tapped card is moved by a sheet from below, and back', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow');
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto('/desk/planner');
  const card = page.getByRole('button', { name: /^Five books for the long nights/ });
  await card.click();
  await page.getByRole('button', { name: 'Move …' }).click();
  const sheet = page.getByRole('dialog', { name: 'Move Five books for the long nights' });
  await expect(sheet).toBeVisible();
  // It stands at the lower edge, as wide as the screen.
  await expect(async () => {
    const box = (await sheet.boundingBox())!;
    expect(Math.round(box.y + box.height)).toBe(844);
  }).toPass();
  await sheet.getByRole('button', { name: 'Cancel' }).click();
  await expect(sheet).toBeHidden();
  await card.click();
  await page.getByRole('button', { name: 'Move …' }).click();
  await sheet
    .getByRole('button', { name: /\d\d:\d\d/ })
    .first()
    .click();
  await expect(page.getByText(/^“?Five books for the long nights|runs/).first()).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(card).toBeVisible();
});
