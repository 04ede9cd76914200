import { expect, type Page } from '@playwright/test';
import { later } from './days.js';
import { comeIn, londonIn, test } from './people.js';

/**
 * The last Sunday of the next March: the clocks of Europe/London go forward at 01:00 (EU Directive
 * 2000/84/EC, kept by the United Kingdom).
 */
function springForward(): string {
  const today = londonIn(0).date;
  for (const year of [0, 1].map((n) => Number(today.slice(0, 4)) + n)) {
    const last = `${year}-03-31`;
    const sunday = later(last, -new Date(`${last}T00:00:00Z`).getUTCDay());
    if (sunday > today) return sunday;
  }
  throw new Error('There is a March in every year.');
}

/** Presses Tab until the wanted control has the focus. */
async function tabTo(page: Page, what: ReturnType<Page['getByRole']>): Promise<void> {
  await expect(what).toBeVisible();
  for (let i = 0; i < 120; i++) {
    if (await what.evaluate((el) => el === document.activeElement)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error('Tab never reached it.');
}

test('by keyboard alone: a slot’s date is moved and put back, an absence entered and removed', async ({
  browser,
}) => {
  test.slow();
  const page = await comeIn(browser, 'Mara Winslow');
  await page.keyboard.press('/');
  await expect(page.getByRole('combobox', { name: 'Find or do anything' })).toBeFocused();
  await page.keyboard.type('Change standing slots');
  await expect(page.getByRole('option', { name: 'Change standing slots' })).toHaveAttribute(
    'aria-selected',
    'true',
  );
  await page.keyboard.press('Enter');
  await tabTo(page, page.getByRole('button', { name: /^Thursdays 08:00/ }));
  await page.keyboard.press('Enter');
  const slot = page.getByRole('region', { name: 'Slot', exact: true });
  await expect(slot.getByRole('heading', { name: /^Thursdays 08:00/ })).toBeVisible();
  const move = slot.getByRole('button', { name: /^Move / }).nth(2);
  const which = ((await move.getAttribute('aria-label')) ?? '').replace('Move ', '');
  await tabTo(page, move);
  await page.keyboard.press('Enter');
  await tabTo(page, slot.getByLabel('at', { exact: true }));
  await page.keyboard.press('Control+a');
  await page.keyboard.type('nine');
  await tabTo(page, slot.getByRole('button', { name: 'Move it' }));
  await page.keyboard.press('Enter');
  await expect(slot.getByRole('alert')).toHaveText('Type the time like 08:00.');
  // Back over the button that opens the list of times.
  await page.keyboard.press('Shift+Tab');
  await page.keyboard.press('Shift+Tab');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('9.30');
  await tabTo(page, slot.getByRole('button', { name: 'Move it' }));
  await page.keyboard.press('Enter');
  await expect(slot.getByRole('row', { name: new RegExp(which) })).toContainText(`moved to ${which} 09:30`);
  await tabTo(page, slot.getByRole('button', { name: 'Save changes' }));
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Saved: Thursdays 08:00/)).toBeVisible();
  await tabTo(page, page.getByRole('button', { name: 'Undo' }));
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /^Thursdays 08:00/ })).not.toContainText('09:30');

  const isla = await comeIn(browser, 'Isla Nettle', '/desk/planner/absences');
  // Her own days off, and nobody else’s.
  await expect(isla.getByRole('combobox', { name: /^Who/ })).toHaveText('Isla Nettle');
  await expect(isla.getByRole('button', { name: /^Change: Tobias Orme/ })).toHaveCount(0);
  await isla.getByLabel('First day').fill(later(londonIn(0).date, 60));
  await tabTo(isla, isla.getByLabel('Note'));
  await isla.keyboard.type('Dry dock');
  await isla.keyboard.press('Enter');
  await expect(isla.getByRole('row', { name: /Isla Nettle.*Dry dock/ })).toBeVisible();
  await tabTo(isla, isla.getByRole('button', { name: /^Remove: Isla Nettle/ }));
  await isla.keyboard.press('Enter');
  await expect(isla.getByRole('row', { name: /Dry dock/ })).toHaveCount(0);
});

test('N on a day types a post there; where the clocks go forward the two nearest times are offered', async ({
  browser,
}) => {
  const day = springForward();
  const page = await comeIn(
    browser,
    'Mara Winslow',
    `/desk/planner?view=weeks&from=${later(day, -6)}&weeks=1`,
  );
  await page.getByRole('button', { name: /^New post on Sunday/ }).focus();
  await page.keyboard.press('n');
  const dialog = page.getByRole('dialog', { name: /^New post on Sunday/ });
  await expect(dialog.getByLabel('Title')).toBeFocused();
  await page.keyboard.type('The hour that is not there');
  await expect(dialog.getByRole('status')).toHaveText('');
  await dialog.getByLabel(/^Time/).fill('01:30');
  await page.keyboard.press('Enter');
  await expect(dialog.getByRole('alert')).toContainText('the clocks go forward and 01:30 does not exist');
  await dialog
    .getByRole('button', { name: '02:30' })
    .or(dialog.getByRole('button', { name: '02:00' }))
    .click();
  await expect(page.getByText(/“The hour that is not there” is on Sunday/)).toBeVisible();
  // And what is wrong with a day is said before the post lands there.
  await page.goto('/desk/planner?view=weeks');
  await page.getByRole('button', { name: /^Letters to a lock-keeper’s daughter, cleared/ }).focus();
  await page.keyboard.press('n');
  await expect(page.getByRole('dialog').getByRole('status')).toContainText(
    'The 08:00 slot is taken by “Letters to a lock-keeper’s daughter”.',
  );
});

test('a contributor sees the plan and cannot change it, here or on the server', async ({ browser }) => {
  const page = await comeIn(browser, 'Isla Nettle', '/desk/planner?view=weeks');
  const card = page.getByRole('button', { name: /^A short day on the summit, commissioned/ });
  await expect(card).toBeVisible();
  await expect(page.getByRole('button', { name: /^New post on/ })).toHaveCount(0);
  await expect(page.getByRole('button', { name: /^Open slot/ }).first()).toBeDisabled();
  await card.focus();
  await page.keyboard.press('m');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog').getByLabel('Copy date')).toBeDisabled();
  await page.keyboard.press('Escape');
  const { posts } = (await (await page.request.get('/api/posts?stage=commissioned&words=summit')).json()) as {
    posts: { id: number; version: number }[];
  };
  const refused = await page.request.patch(`/api/posts/${posts[0]!.id}`, {
    headers: { 'If-Match': `"${posts[0]!.version}"` },
    data: { runAt: '2031-01-01T08:00' },
  });
  expect(refused.status()).toBe(403);
  expect(
    (await page.request.post('/api/slots', { data: { weekday: 1, time: '08:00', categoryId: 1 } })).status(),
  ).toBe(403);
});
