import { expect, type Page } from '@playwright/test';
import { comeIn, commission, linesOf, saved, test, textOf } from './people.js';

test('two people in one text see each other’s words and carets, and each takes back their own', async ({
  browser,
}) => {
  const chief = await comeIn(browser, 'Mara Winslow');
  const id = await commission(chief, 'Two pens', 'Tobias Orme');
  const writer = await comeIn(browser, 'Tobias Orme', `/desk/posts/${id}`);
  await chief.goto(`/desk/posts/${id}`);
  await expect(chief.getByRole('group', { name: 'Also in this text: Tobias Orme' })).toBeVisible();
  await expect(writer.getByRole('group', { name: 'Also in this text: Mara Winslow' })).toBeVisible();
  await textOf(writer).click();
  await writer.keyboard.type('From the writer.');
  await saved(writer);
  // The other sees it without doing anything, and keeps focus where it was.
  const excerpt = (page: Page) => page.getByRole('textbox', { name: 'Excerpt' });
  await excerpt(chief).click();
  await expect(textOf(chief)).toContainText('From the writer.');
  await expect(excerpt(chief)).toBeFocused();
  await excerpt(chief).fill('By both of us.');
  await writer.keyboard.press('Enter');
  await writer.keyboard.type('And more.');
  await textOf(chief).getByText('From the writer.').click();
  await chief.keyboard.press('Home');
  await chief.keyboard.type('Chief says: ');
  await expect.poll(() => linesOf(chief)).toEqual(['Chief says: From the writer.', 'And more.']);
  await expect.poll(() => linesOf(writer)).toEqual(['Chief says: From the writer.', 'And more.']);
  await expect(excerpt(writer)).toHaveValue('By both of us.');
  // Undo is of one's own words.
  await expect(async () => {
    // One step, or a few where the machine paused between two keys.
    await chief.keyboard.press('Control+z');
    expect(await linesOf(writer)).toEqual(['From the writer.', 'And more.']);
  }).toPass();

  // Both write while one of them cannot be reached, in the same words.
  await writer.context().setOffline(true);
  await textOf(writer).getByText('And more.').click();
  await writer.keyboard.press('End');
  await writer.keyboard.type(' Under the bridge.');
  await expect(writer.getByText('Offline, kept on this device')).toBeVisible();
  await textOf(chief).getByText('And more.').click();
  await chief.keyboard.press('Home');
  await chief.keyboard.type('After that: ');
  await saved(chief);
  await writer.context().setOffline(false);
  const joined = ['From the writer.', 'After that: And more. Under the bridge.'];
  await expect.poll(() => linesOf(writer)).toEqual(joined);
  await expect.poll(() => linesOf(chief)).toEqual(joined);
  await saved(writer);
  await saved(chief);
});

test('while two type at once, every key and every click counts where it was meant', async ({ browser }) => {
  const chief = await comeIn(browser, 'Mara Winslow');
  const id = await commission(chief, 'At once', 'Tobias Orme');
  const writer = await comeIn(browser, 'Tobias Orme', `/desk/posts/${id}`);
  await chief.goto(`/desk/posts/${id}`);
  await expect(chief.getByRole('group', { name: 'Also in this text: Tobias Orme' })).toBeVisible();
  await textOf(writer).click();
  const begun = ['From the writer.', 'And more.', 'Third line.'];
  for (const [index, line] of begun.entries()) {
    if (index > 0) await writer.keyboard.press('Enter');
    await writer.keyboard.type(line);
  }
  await saved(writer);
  await textOf(chief).getByText(begun[0]!).click();

  let done = false;
  const chiefWrites = async () => {
    for (let round = 0; !done; round++) {
      await chief.keyboard.press('Home');
      await chief.keyboard.type('Chief says: ');
      expect((await linesOf(chief))[0], `round ${round}`).toBe(`Chief says: ${begun[0]}`);
      for (let n = 0; n < 'Chief says: '.length; n++) await chief.keyboard.press('Backspace');
      expect((await linesOf(chief))[0], `round ${round}`).toBe(begun[0]);
    }
  };
  const writerWrites = async () => {
    for (let round = 0; round < 24; round++) {
      const line = 1 + (round % 2);
      await textOf(writer).getByText(begun[line]!).click();
      await writer.keyboard.press('End');
      await writer.keyboard.type(' Un');
      const lines = await linesOf(writer);
      expect(lines[line], `round ${round}`).toBe(`${begun[line]} Un`);
      expect(lines, `round ${round}`).toHaveLength(3);
      for (let n = 0; n < 3; n++) await writer.keyboard.press('Backspace');
    }
  };
  await Promise.all([chiefWrites(), writerWrites().finally(() => (done = true))]);
  await expect.poll(() => linesOf(chief)).toEqual(begun);
  await expect.poll(() => linesOf(writer)).toEqual(begun);
});
