import { expect, type Locator, type Page } from '@playwright/test';
import { comeIn, commission, londonIn, saved, tabTo, test, textOf } from './people.js';

/**
 * Types a day into the browser's own date field. In which order it takes its parts, and what it makes of a nought
 * at the start of one, is the browser's; where that comes out otherwise, the day is put in.
 */
async function typeDay(page: Page, field: Locator, day: string): Promise<void> {
  const [year, month, date] = day.split('-');
  await page.keyboard.type(`${month}${date}${year}`);
  if ((await field.inputValue()) !== day) await field.fill(day);
  await expect(field).toHaveValue(day);
}

test.describe('by keyboard alone', () => {
  test.slow();
  test('pitch, lift onto a slot, brief', async ({ browser }) => {
    const page = await comeIn(browser, 'Mara Winslow', '/desk/planner');
    await page.keyboard.press('p');
    await expect(page.getByRole('textbox', { name: 'Title' })).toBeFocused();
    await page.keyboard.type('Keys on a nail');
    await page.keyboard.press('Tab');
    await page.keyboard.press('Tab');
    await page.keyboard.type('Galley');
    await expect(page.getByRole('combobox', { name: 'Category', exact: true })).toHaveText('Galley');
    await tabTo(page, page.getByRole('button', { name: 'Put it in the tray' }));
    await page.keyboard.press('Enter');
    await expect(page.getByText('“Keys on a nail” is in the tray.')).toBeVisible();
    const pitch = page.getByRole('button', { name: /^Keys on a nail, pitch/ });
    await tabTo(page, pitch);
    await page.keyboard.press('Space');
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('ArrowLeft');
    await page.keyboard.press('Space');
    const brief = page.getByRole('dialog', { name: 'Keys on a nail' });
    await expect(brief).toBeVisible();
    // The dialog hides what is behind it from assistive technology.
    await expect(
      page.getByRole('button', { name: /^Keys on a nail, commissioned/, includeHidden: true }),
    ).toHaveCount(1);
    await tabTo(page, brief.getByLabel('Who writes it'));
    await page.keyboard.type('Jun Marlowe');
    await expect(brief.getByLabel('Who writes it')).toHaveText(/^Jun Marlowe/);
    await page.keyboard.press('Tab');
    await page.keyboard.type('Where does each boat hang its keys?');
    await tabTo(page, brief.getByRole('button', { name: 'Give the brief' }));
    await page.keyboard.press('Enter');
    await expect(page.getByText(/Jun Marlowe has the brief/)).toBeVisible();
    // And by the menu, to another day and back into the tray.
    await tabTo(page, page.getByRole('button', { name: /^Keys on a nail, commissioned/ }));
    await page.keyboard.press('m');
    const menu = page.getByRole('dialog', { name: 'Move Keys on a nail' });
    await tabTo(page, menu.getByRole('button', { name: 'Back to the tray' }));
    await page.keyboard.press('Enter');
    await expect(page.getByRole('button', { name: /^Keys on a nail, pitch/ })).toBeVisible();
    await expect(page.getByRole('button', { name: 'Undo' })).toBeVisible();
    await page.keyboard.press('Control+z');
    await expect(page.getByRole('button', { name: /^Keys on a nail, commissioned/ })).toBeVisible();
  });

  test('read, note, ask for changes, clear, schedule', async ({ browser }, { retry }) => {
    // Posts of a first try are there still at the second.
    const title = `A keyboard for the weed hatch ${'again '.repeat(retry)}`.trim();
    const chief = await comeIn(browser, 'Mara Winslow');
    const id = await commission(chief, title, 'Tobias Orme');
    const writer = await comeIn(browser, 'Tobias Orme', `/desk/posts/${id}`);
    await tabTo(writer, textOf(writer));
    await writer.keyboard.type('Open the hatch and look down.');
    await saved(writer);
    await tabTo(writer, writer.getByRole('button', { name: 'Hand in', exact: true }));
    await writer.keyboard.press('Enter');
    await expect(writer.getByText('Handed in.')).toBeVisible();

    const editor = await comeIn(browser, 'Halden Byre');
    await editor.keyboard.press('/');
    await expect(editor.getByRole('combobox', { name: 'Find or do anything' })).toBeFocused();
    // The whole of it: other tests have posts about hatches, too.
    await editor.keyboard.type(title);
    await expect(editor.getByRole('option', { name: new RegExp(title) })).toHaveAttribute(
      'aria-selected',
      'true',
    );
    await editor.keyboard.press('Enter');
    await tabTo(editor, textOf(editor));
    await editor.keyboard.press('Control+Home');
    for (let i = 0; i < 4; i++) await editor.keyboard.press('Shift+ArrowRight');
    await editor.keyboard.press('Control+Alt+n');
    await expect(editor.getByLabel('Your note on these words')).toBeFocused();
    await editor.keyboard.type('Say when.');
    await editor.keyboard.press('Tab');
    await editor.keyboard.press('Enter');
    await expect(editor.getByRole('button', { name: '“Open”' })).toBeVisible();
    await tabTo(editor, editor.getByRole('button', { name: 'Ask for changes' }));
    await editor.keyboard.press('Enter');
    await expect(editor.getByLabel('What should change?')).toBeFocused();
    await editor.keyboard.type('When is it safe?');
    await editor.keyboard.press('Tab');
    await editor.keyboard.press('Enter');
    await expect(editor.getByText('Changes asked for.')).toBeVisible();
    await tabTo(editor, editor.getByRole('button', { name: 'Hand in', exact: true }));
    await editor.keyboard.press('Enter');
    await tabTo(editor, editor.getByRole('button', { name: 'Clear', exact: true }));
    await editor.keyboard.press('Enter');
    // A note is not resolved; the way on has the focus.
    await expect(editor.getByText('2 notes not resolved.')).toBeVisible();
    await expect(editor.getByRole('button', { name: 'Clear all the same' })).toBeFocused();
    await editor.keyboard.press('Enter');
    await expect(editor.getByText('Cleared.', { exact: true })).toBeVisible();
    await tabTo(editor, editor.getByRole('button', { name: 'Schedule …' }));
    await editor.keyboard.press('Enter');
    await expect(editor.getByLabel('Date', { exact: true })).toBeFocused();
    const day = londonIn(20 * 86_400).date;
    await typeDay(editor, editor.getByLabel('Date', { exact: true }), day);
    await tabTo(editor, editor.getByLabel('Time, Europe/London'));
    await editor.keyboard.press('Control+a');
    await editor.keyboard.type('07:45');
    await editor.keyboard.press('Enter');
    // The checks warn; the way on has the focus.
    await expect(editor.getByRole('button', { name: /all the same$/ })).toBeFocused();
    await editor.keyboard.press('Enter');
    await expect(editor.getByText(/^Goes out .* at 07:45\.$/)).toBeVisible();
    await tabTo(editor, editor.getByRole('button', { name: 'Unschedule' }));
    await editor.keyboard.press('Enter');
    await expect(
      editor.getByText(/^Unscheduled\. It stays cleared and planned for .* at 07:45\.$/).first(),
    ).toBeVisible();
  });
});
