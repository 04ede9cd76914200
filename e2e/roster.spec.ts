import { expect } from '@playwright/test';
import { choose, comeIn, newPage, test } from './people.js';

test('somebody is invited, comes in once, and is deactivated', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/roster');
  await page.getByLabel('Name of whom you invite').fill('Odette Wren');
  await page.getByLabel('Their e-mail').fill('odette@halfwaylock.example');
  await page.getByRole('button', { name: 'Invite', exact: true }).click();
  await expect(page.getByText('Odette Wren is invited as contributor.')).toBeVisible();
  const address = await page.getByLabel(/^Address of the invitation/).inputValue();

  const hers = await newPage(browser);
  await hers.goto(address.replace(/^https?:\/\/[^/]+/, ''));
  await expect(hers.getByRole('heading', { name: 'Welcome to Halfway Lock' })).toBeVisible();
  await hers.getByLabel('A password').fill('short');
  await hers.getByRole('button', { name: 'Accept invitation' }).click();
  await expect(hers.getByText('At least 10 characters.').last()).toBeVisible();
  await hers.getByLabel('A password').fill('a lock and a half');
  await hers.getByRole('button', { name: 'Accept invitation' }).click();
  await expect(hers).toHaveURL(/\/desk\/today/);

  const again = await newPage(browser);
  await again.goto(address.replace(/^https?:\/\/[^/]+/, ''));
  await expect(
    again.getByText('This invitation was used already. Sign in with your password.'),
  ).toBeVisible();

  await page.getByRole('link', { name: /Odette Wren/ }).click();
  await expect(page.getByRole('heading', { name: 'Odette Wren' })).toBeVisible();
  await page.getByRole('button', { name: 'Deactivate' }).click();
  await page.getByRole('alertdialog').getByRole('button', { name: 'Deactivate' }).click();
  await expect(page.getByText('Odette Wren is deactivated.')).toBeVisible();
  await hers.goto('/desk/planner');
  await expect(hers).toHaveURL(/sign-in/);
});

test('a person says who they are, and what they have in hand goes to somebody else', async ({ browser }) => {
  const page = await comeIn(browser, 'Jun Marlowe', '/desk/account');
  await page.getByRole('link', { name: 'Your page in the roster' }).click();
  await page.getByLabel('Biography').fill('Cooks on a stove the size of a hat.');
  await page.getByRole('button', { name: 'Add a link' }).click();
  await page.getByLabel('Name of link 1').fill('Galley log');
  await page.getByLabel('Address of link 1').fill('javascript:alert(1)');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText(/must be a web address that begins with https/).first()).toBeVisible();
  await page.getByLabel('Address of link 1').fill('https://galley.example/');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Saved.')).toBeVisible();
  await page.reload();
  await expect(page.getByLabel('Biography')).toHaveValue('Cooks on a stove the size of a hat.');
  await expect(page.getByLabel('Address of link 1')).toHaveValue('https://galley.example/');

  const desk = await comeIn(browser, 'Mara Winslow', '/desk/roster');
  await desk.getByRole('link', { name: /Jun Marlowe/ }).click();
  await choose(desk.getByLabel('To whom'), 'Petra Kesh');
  await desk.getByRole('button', { name: 'Preview' }).click();
  const preview = desk.getByRole('region', { name: 'Before it is written' });
  await expect(preview).toContainText('What Jun Marlowe has in hand becomes Petra Kesh’s');
  await expect(preview.getByRole('button', { name: /^Reassign \d+ posts?$/ })).toBeEnabled();
  await preview.getByRole('button', { name: 'Cancel' }).click();
  await expect(preview).toHaveCount(0);
});
