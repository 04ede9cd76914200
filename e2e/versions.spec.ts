import { expect } from '@playwright/test';
import { comeIn, commission, saved, test, textOf } from './people.js';

test('what changed is seen word by word, and a passage, a text and a whole version come back', async ({
  browser,
}) => {
  const chief = await comeIn(browser, 'Mara Winslow');
  const id = await commission(chief, 'Going back over it', 'Tobias Orme');
  const writer = await comeIn(browser, 'Tobias Orme', `/desk/posts/${id}`);
  await textOf(writer).click();
  await writer.keyboard.type('Open the top gate slowly.');
  await writer.keyboard.press('Enter');
  await writer.keyboard.type('Then wait for the level.');
  await saved(writer);
  // One version, or more where the machine was busy and typing paused.
  const { version: before } = (await (await chief.request.get(`/api/posts/${id}`)).json()) as {
    version: number;
  };
  const [text, title, restored] = [before + 1, before + 2, before + 3];

  await chief.goto(`/desk/posts/${id}`);
  await textOf(chief).getByText('Open the top gate slowly.').click();
  await chief.keyboard.press('End');
  for (let i = 0; i < 7; i++) await chief.keyboard.press('Shift+Control+ArrowLeft');
  await chief.keyboard.insertText('Open the bottom gate.');
  await saved(chief);
  await chief.getByRole('textbox', { name: 'Title' }).fill('Going back, gate by gate');
  await saved(chief);

  await chief.getByRole('link', { name: 'Earlier versions, and what changed' }).click();
  await expect(chief.getByRole('heading', { level: 1, name: 'Going back, gate by gate' })).toBeVisible();
  const changed = chief.getByRole('region', { name: 'What changed' });
  // The newest stands first, with the one before it.
  await expect(
    changed.getByRole('row', { name: /title Going back over it Going back, gate by gate/ }),
  ).toBeVisible();
  await expect(changed.getByText('The text is the same.')).toBeVisible();
  await chief.getByRole('button', { name: `What changed with version ${text}` }).click();
  await expect(changed.getByRole('deletion').first()).toHaveText('top');
  await expect(changed.getByRole('insertion').first()).toHaveText('bottom');
  await chief.getByRole('radio', { name: 'Side by side' }).click();
  await expect(changed.getByRole('deletion').first()).toHaveText('top');
  // In the address, so that it survives a reload and can be sent to somebody.
  await expect(chief).toHaveURL(new RegExp(`from=${before}&to=${text}`));

  // From before the change to what stands: one passage comes back, the title stays.
  await chief.getByRole('radio', { name: new RegExp(`^To version ${title}\\b`) }).click();
  await expect(changed.getByRole('heading', { name: `From version ${before} to ${title}` })).toBeVisible();
  await changed.getByRole('button', { name: 'Restore this passage' }).click();
  await expect(chief.getByText(`The passage of version ${before} is restored.`)).toBeVisible();
  // Whoever has the text open sees it at once.
  await expect(textOf(writer).locator('p').first()).toHaveText('Open the top gate slowly.');

  await changed.getByRole('button', { name: new RegExp(`^Name version ${restored}\\b`) }).click();
  await chief.getByRole('textbox', { name: 'Name' }).fill('As Tobias had it');
  await chief.getByRole('button', { name: 'Save' }).click();
  await expect(chief.getByRole('listitem').filter({ hasText: `Version ${restored}` })).toContainText(
    'As Tobias had it',
  );

  await changed.getByRole('button', { name: new RegExp(`^Restore version ${before}\\b`) }).click();
  await chief.getByRole('menuitem', { name: /^All that writers set/ }).click();
  await expect(chief.getByText(`Version ${before} is restored.`, { exact: true })).toBeVisible();
  await expect(writer.getByRole('textbox', { name: 'Title' })).toHaveValue('Going back over it');
  await chief.reload();
  await expect(chief.getByRole('heading', { level: 1, name: 'Going back over it' })).toBeVisible();
  await expect(chief.getByText(`Mara Winslow: restored version ${before}`).first()).toBeVisible();
});

test('a writer whose post is in review sees its versions, and cannot go back', async ({ browser }) => {
  const chief = await comeIn(browser, 'Mara Winslow');
  const id = await commission(chief, 'Read, not restored', 'Tobias Orme');
  const writer = await comeIn(browser, 'Tobias Orme', `/desk/posts/${id}`);
  await textOf(writer).click();
  await writer.keyboard.insertText('All of it.');
  await saved(writer);
  await writer.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(writer.getByText('Handed in.')).toBeVisible();
  await writer.goto(`/desk/posts/${id}/versions?from=1&to=3`);
  await expect(writer.getByRole('region', { name: 'What changed' }).getByRole('insertion')).toHaveText(
    'All of it.',
  );
  await expect(writer.getByRole('button', { name: /^Restore/ })).toHaveCount(0);
});
