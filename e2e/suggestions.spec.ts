import { expect } from '@playwright/test';
import { comeIn, commission, saved, test, textOf } from './people.js';

test('a proofreader suggests, the editor accepts and refuses, and clears', async ({ browser }) => {
  const chief = await comeIn(browser, 'Mara Winslow');
  const title = `Read twice ${Date.now() % 100_000}`;
  const id = await commission(chief, title, 'Tobias Orme');
  const writer = await comeIn(browser, 'Tobias Orme', `/desk/posts/${id}`);
  await textOf(writer).click();
  await writer.keyboard.type('Open the gate slow.');
  await writer.keyboard.press('Enter');
  await writer.keyboard.type('Than wait.');
  await saved(writer);
  await writer.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(writer.getByText('Handed in.')).toBeVisible();

  // Put on it, Cyril corrects by suggestion: he has no choice.
  const people = (await (await chief.request.get('/api/people')).json()) as { id: number; name: string }[];
  const cyrilId = people.find((p) => p.name === 'Cyril Fenn')!.id;
  const { version } = (await (await chief.request.get(`/api/posts/${id}`)).json()) as { version: number };
  await chief.request.patch(`/api/posts/${id}`, {
    data: { proofreaderId: cyrilId },
    headers: { 'If-Match': `"${version}"`, Origin: new URL(chief.url()).origin },
  });
  const cyril = await comeIn(browser, 'Cyril Fenn', `/desk/posts/${id}`);
  const suggest = cyril.getByRole('button', { name: 'Suggest', exact: true });
  await expect(suggest).toHaveAttribute('aria-pressed', 'true');
  await expect(suggest).toBeDisabled();
  await expect(cyril.getByRole('textbox', { name: 'Title' })).toHaveAttribute('readonly', '');
  await textOf(cyril).getByText('Open the gate slow.').click();
  await cyril.keyboard.press('End');
  await cyril.keyboard.press('ArrowLeft');
  await cyril.keyboard.type('ly');
  await textOf(cyril).getByText('Than wait.').click();
  await cyril.keyboard.press('Home');
  for (let i = 0; i < 4; i++) await cyril.keyboard.press('Delete');
  await cyril.keyboard.type('Then');
  await cyril.keyboard.press('Enter');
  await saved(cyril);
  await expect(textOf(cyril).getByRole('insertion').first()).toHaveText('ly');
  await expect(textOf(cyril).getByRole('deletion').first()).toHaveText('Than');

  // The editor sees them as they are made, and the text as it would be and as it was.
  await chief.goto(`/desk/posts/${id}`);
  const bar = chief.getByRole('group', { name: 'Suggestions in the text' });
  await bar.getByRole('radio', { name: 'As it would be' }).click();
  await expect(textOf(chief).getByText('Open the gate slowly.')).toBeVisible();
  await expect(textOf(chief).getByText('Than', { exact: true })).toBeHidden();
  await bar.getByRole('radio', { name: 'As it was' }).click();
  await expect(textOf(chief).getByText('ly', { exact: true })).toBeHidden();
  await chief.reload();
  // Clearing says what is not settled.
  await chief.getByRole('button', { name: 'Clear', exact: true }).click();
  const asked = chief.getByRole('group', { name: 'Checks before it goes on' });
  await expect(asked).toContainText(/\d suggestions? not settled/);
  await asked.getByRole('button', { name: /^(Not yet|Close)$/ }).click();
  await chief.getByRole('tab', { name: /^Notes/ }).click();
  const list = chief.getByRole('region', { name: /suggestions?$/ });
  await list.getByRole('button', { name: /^Accept: Insert ly/ }).click();
  await expect(textOf(chief).getByText('Open the gate slowly.')).toBeVisible();
  await list.getByRole('button', { name: /^Refuse all of Cyril Fenn/ }).click();
  await expect(bar).toBeHidden();
  await saved(chief);
  await expect(textOf(cyril).locator('p')).toHaveText(['Open the gate slowly.', 'Than wait.']);
  const post = (await (await chief.request.get(`/api/posts/${id}`)).json()) as { body: object };
  expect(JSON.stringify(post.body)).toContain('Open the gate slowly.');

  // Undo brings a suggestion back; allowed more, the proofreader writes.
  await textOf(chief).click();
  await chief.keyboard.press('Control+z');
  await expect(bar).toBeVisible();
  await chief.keyboard.press('Control+y');
  await expect(bar).toBeHidden();
  await chief.getByRole('tab', { name: 'Details' }).click();
  await chief.getByRole('checkbox', { name: 'Cyril Fenn writes in the text, instead of suggesting' }).check();
  await expect(suggest).toHaveAttribute('aria-pressed', 'false');
  await textOf(cyril).getByText('Than wait.').click();
  await cyril.keyboard.press('End');
  await cyril.keyboard.type(' Long.');
  await saved(cyril);
  await expect(textOf(chief).getByText('Than wait. Long.')).toBeVisible();
  await expect(bar).toBeHidden();
});
