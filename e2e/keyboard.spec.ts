import { expect, type Page } from '@playwright/test';
import { comeIn, commission, londonIn, saved, test, textOf } from './people.js';

/** Tabs until the wanted thing has focus; nobody should need the mouse to get anywhere. */
async function tabTo(page: Page, what: ReturnType<Page['getByRole']>, most = 200): Promise<void> {
  await expect(what.first()).toBeVisible();
  for (let i = 0; i < most; i++) {
    if (await what.first().evaluate((el) => el === document.activeElement)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error('Tab never reached it.');
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
    await page.keyboard.press('Tab');
    await page.keyboard.press('Tab');
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
    await expect(page.getByRole('button', { name: /^Keys on a nail, commissioned/, includeHidden: true })).toHaveCount(1);
    await tabTo(page, brief.getByLabel('Who writes it'));
    await page.keyboard.type('Jun Marlowe');
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
    await tabTo(page, page.getByRole('button', { name: 'Undo' }));
    await page.keyboard.press('Enter');
    await expect(page.getByRole('button', { name: /^Keys on a nail, commissioned/ })).toBeVisible();
  });

  test('read, note, ask for changes, clear, schedule', async ({ browser }) => {
    const chief = await comeIn(browser, 'Mara Winslow');
    const id = await commission(chief, 'A keyboard for the weed hatch', 'Tobias Orme');
    const writer = await comeIn(browser, 'Tobias Orme', `/desk/posts/${id}`);
    await tabTo(writer, textOf(writer));
    await writer.keyboard.type('Open the hatch and look down.');
    await saved(writer);
    await tabTo(writer, writer.getByRole('button', { name: 'Hand in' }));
    await writer.keyboard.press('Enter');
    await expect(writer.getByText('Handed in.')).toBeVisible();

    const editor = await comeIn(browser, 'Halden Byre');
    await editor.keyboard.press('/');
    await expect(editor.getByRole('combobox', { name: 'Find or do anything' })).toBeFocused();
    await editor.keyboard.type('weed hatch');
    await expect(editor.getByRole('option', { name: /A keyboard for the weed hatch/ })).toHaveAttribute('aria-selected', 'true');
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
    await tabTo(editor, editor.getByRole('button', { name: 'Hand in' }));
    await editor.keyboard.press('Enter');
    await tabTo(editor, editor.getByRole('button', { name: 'Clear', exact: true }));
    await editor.keyboard.press('Enter');
    await expect(editor.getByText('Cleared.', { exact: true })).toBeVisible();
    await tabTo(editor, editor.getByRole('button', { name: 'Schedule …' }));
    await editor.keyboard.press('Enter');
    await expect(editor.getByLabel('Date', { exact: true })).toBeFocused();
    const day = londonIn(20 * 86_400).date;
    await editor.keyboard.type(`${day.slice(8)}${day.slice(5, 7)}${day.slice(0, 4)}`);
    await tabTo(editor, editor.getByLabel('Time, Europe/London'));
    await editor.keyboard.press('Control+a');
    await editor.keyboard.type('07:45');
    await editor.keyboard.press('Enter');
    await expect(editor.getByText(/^Goes out .* at 07:45\.$/)).toBeVisible();
    await tabTo(editor, editor.getByRole('button', { name: 'Take back' }));
    await editor.keyboard.press('Enter');
    await expect(editor.getByText('Taken back. It stays cleared.').first()).toBeVisible();
  });
});
