import { expect } from '@playwright/test';
import { choose, comeIn, test, undo } from './people.js';

test('a plan is proposed, pinned, changed, accepted in parts and undone', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/planner?view=weeks&weeks=8');
  await page.getByRole('button', { name: 'Plan …' }).click();
  await page.getByRole('menuitem', { name: 'Fill open slots' }).click();
  await expect(page.getByRole('status').filter({ hasText: /\d+ of \d+ open slots filled/ })).toBeVisible();
  const plan = page.getByRole('list', { name: 'The plan' });
  const titles = plan.getByRole('checkbox');
  await expect(titles.nth(3)).toBeVisible();
  // Once it looks no further, nothing changes under the hand any more.
  const done = page.getByRole('button', { name: 'Work out again' });
  await expect(done).toBeVisible({ timeout: 20_000 });
  const pins = page.getByRole('button', { name: /^Pin: / });
  const nameOf = async (n: number) => (await pins.nth(n).getAttribute('aria-label'))!.replace('Pin: ', '');
  const [pinned, leftOut] = [await nameOf(0), await nameOf(1)];

  await page.getByRole('button', { name: `Pin: ${pinned}` }).click();
  await page.getByRole('button', { name: `Leave out: ${leftOut}` }).click();
  await page.getByRole('menuitem', { name: 'Not this pitch' }).click();
  await expect(plan.getByText(leftOut, { exact: true })).toHaveCount(0);
  await expect(plan.getByText(pinned, { exact: true })).toBeVisible();
  await expect(page.getByRole('button', { name: `Pin: ${pinned}` })).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('button', { name: `Why: ${pinned}` }).click();
  await expect(plan.getByText(/^copy by \w+ \d+ \w+/).first()).toBeVisible();
  await expect(page.getByText('Pinned · ').first()).toBeVisible();

  await expect(done).toBeVisible({ timeout: 20_000 });
  const last = await nameOf(2);
  const accept = page.getByRole('button', { name: /^Accept \d+$/ });
  // The box is unchecked before the button says how many are left.
  const count = Number((await accept.innerText()).split(' ')[1]) - 1;
  await plan.getByRole('checkbox', { name: last }).uncheck();
  await page.getByRole('button', { name: `Accept ${count}`, exact: true }).click();
  await expect(page.getByText(`${count} pitches commissioned by the plan.`)).toBeVisible();
  const card = page.getByRole('button', {
    name: new RegExp(`^${pinned.replace(/[?.()]/g, '.')}, commissioned`),
  });
  await expect(card).toBeVisible();
  await undo(page, `${count} pitches commissioned by the plan.`);
  await expect(card).toHaveCount(0);
  await page.getByRole('button', { name: 'Put the plan away' }).click();
  await expect(page.getByRole('heading', { name: /^Pitch tray/ })).toBeVisible();
});

test('an absence is covered from Today, and somebody drops out', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/planner/absences');
  const row = page.getByRole('row', { name: /Petra Kesh/ }).first();
  await row.getByRole('link', { name: /^Cover/ }).click();
  await expect(page.getByRole('heading', { name: 'Cover these days' })).toBeVisible();
  const ready = page.getByRole('list', { name: 'What must be ready' });
  await expect(ready.getByText(/by \w{3} \d+ \w{3}/).first()).toBeVisible();

  await page.getByRole('button', { name: 'Plan …' }).click();
  await page.getByRole('menuitem', { name: 'When somebody drops out' }).click();
  await choose(page.getByLabel('Who drops out'), 'Isla Nettle');
  await expect(page).toHaveURL(/who=\d+/);
  await expect(
    page.getByRole('status').filter({ hasText: /can be held|Nothing has to change/ }),
  ).toBeVisible();
});

test('a plan is not for those who may not plan', async ({ browser }) => {
  const page = await comeIn(browser, 'Rosalind Achter', '/desk/planner?plan=fill');
  await expect(page.getByRole('heading', { name: /^Pitch tray/ })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Plan …' })).toHaveCount(0);
  await expect(page.getByRole('heading', { name: 'Plan for open slots' })).toHaveCount(0);
});
