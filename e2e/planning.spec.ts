import { expect } from '@playwright/test';
import { day, longDate, later, monday, planner, dated } from './days.js';
import { comeIn, drag, test, choose } from './people.js';

test(
  'a new post is typed straight onto a date, another taken from the tray into an open ' +
    'slot, both undone at once',
  async ({ browser }) => {
    const page = await comeIn(browser, 'Mara Winslow', planner(6));
    const saturday = later(monday(6), 5);
    await day(page, new RegExp(`^${longDate(saturday)}`)).hover();
    await page.getByRole('button', { name: `New post on ${longDate(saturday)}` }).click();
    const dialog = page.getByRole('dialog', { name: /^New post on Saturday/ });
    await dialog.getByRole('button', { name: /^Put it on/ }).click();
    await expect(dialog.getByRole('alert')).toHaveText('Give it a title, however rough.');
    await dialog.getByLabel('Title').fill('Swans in the reservoir');
    await dialog.getByLabel('A line of thought').fill('They came back.');
    await choose(dialog.getByLabel('Category'), 'Five to moor');
    await dialog.getByLabel(/^Time/).fill('25:00');
    await dialog.getByRole('button', { name: /^Put it on/ }).click();
    await expect(dialog.getByRole('alert')).toHaveText('Type the time like 08:00.');
    await dialog.getByLabel(/^Time/).fill('10:30');
    await dialog.getByRole('button', { name: /, 10:30$/ }).click();
    await expect(page.getByText(/“Swans in the reservoir” is on Saturday .*, 10:30\./)).toBeVisible();
    await expect(
      day(page, new RegExp(`^${longDate(saturday)}`)).getByRole('button', {
        name: /^Swans in the reservoir, commissioned/,
      }),
    ).toBeVisible();
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(page.getByRole('button', { name: /^Swans in the reservoir, pitch/ })).toBeVisible();

    const wednesday = later(monday(6), 2);
    await page
      .getByRole('button', { name: new RegExp(`^Open slot, Lock-keepers, ${longDate(wednesday)}`) })
      .click();
    await page
      .getByRole('dialog', { name: /^New post on Wednesday/ })
      .getByRole('button', { name: /^The strike of 1923/ })
      .click();
    await expect(
      page.getByText(new RegExp(`Commissioned for ${longDate(wednesday)}.*, 08:00\\.`)),
    ).toBeVisible();
    await page
      .getByRole('dialog', { name: 'The strike of 1923' })
      .getByRole('button', { name: 'Close' })
      .click();
    await page.getByRole('button', { name: 'Undo' }).click();
    await expect(page.getByRole('button', { name: /^The strike of 1923, pitch/ })).toBeVisible();
  },
);

test('a drag lands on the slot under it, and Escape puts a dragged card back', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow', planner(8));
  await dated(page, 'Carried about', `${later(monday(8), 5)}T09:00`);
  const card = page.getByRole('button', { name: /^Carried about, commissioned/ });
  const tuesday = page.getByRole('button', {
    name: new RegExp(`^Open slot, Engine room, ${longDate(later(monday(8), 1))}`),
  });
  await expect(card).toBeVisible();
  const [from, to] = [(await card.boundingBox())!, (await tuesday.boundingBox())!];
  await page.mouse.move(from.x + 20, from.y + 8);
  await page.mouse.down();
  await page.mouse.move(from.x - 30, from.y + 10, { steps: 5 });
  await page.mouse.move(to.x + 40, to.y + 40, { steps: 12 });
  await expect(page.getByText(new RegExp(`^${longDate(later(monday(8), 1))}, 08:00: `))).toBeVisible();
  // The card takes no room while it is held: the day does not move from under the hand.
  expect(await tuesday.boundingBox()).toEqual(to);
  await page.keyboard.press('Escape');
  await expect(page.getByText('Put back where it was.')).toBeVisible();
  await page.mouse.up();
  await expect(
    day(page, new RegExp(`^${longDate(later(monday(8), 5))}`)).getByRole('button', {
      name: /^Carried about/,
    }),
  ).toBeVisible();
  await drag(page, card, tuesday);
  await expect(page.getByText(/Saved|Runs|Planned/).first()).toBeVisible();
  await expect(
    day(page, new RegExp(`^${longDate(later(monday(8), 1))}`)).getByRole('button', {
      name: /^Carried about/,
    }),
  ).toBeVisible();
  await expect(tuesday).toHaveCount(0);
});

test('two editors move the same card: one wins, the other is told and sees it', async ({ browser }) => {
  const mara = await comeIn(browser, 'Mara Winslow', planner(10));
  await dated(mara, 'Wanted twice', `${later(monday(10), 5)}T09:00`);
  const halden = await comeIn(browser, 'Halden Byre');
  // His stream is cut, so that he does not see hers come.
  await halden.route('**/api/events', (route) => route.abort());
  await halden.goto(planner(10));
  const his = halden.getByRole('button', { name: /^Wanted twice, commissioned/ });
  await expect(his).toBeVisible();
  const hers = mara.getByRole('button', { name: /^Wanted twice, commissioned/ });
  await hers.focus();
  for (const key of ['Space', 'ArrowLeft', 'Space']) await mara.keyboard.press(key);
  await expect(
    day(mara, new RegExp(`^${longDate(later(monday(10), 4))}`)).getByRole('button', {
      name: /^Wanted twice/,
    }),
  ).toBeVisible();
  await his.focus();
  for (const key of ['Space', 'ArrowLeft', 'ArrowLeft', 'Space']) await halden.keyboard.press(key);
  await expect(
    halden.getByText(
      /“Wanted twice” was not moved\. Mara Winslow changed the run time of this post in the meantime\..*You see the card where they put it\./,
    ),
  ).toBeVisible();
  await expect(
    day(halden, new RegExp(`^${longDate(later(monday(10), 4))}`)).getByRole('button', {
      name: /^Wanted twice/,
    }),
  ).toBeVisible();
});

test('a move made offline is kept over a reload and stored when the newsroom is back', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow', planner(12));
  const id = await dated(page, 'Moved in a tunnel', `${later(monday(12), 5)}T09:00`);
  const card = page.getByRole('button', { name: /^Moved in a tunnel, commissioned/ });
  await expect(card).toBeVisible();
  await page.route('**/api/posts/**', (route) => route.abort());
  await card.focus();
  for (const key of ['Space', 'ArrowLeft', 'Space']) await page.keyboard.press(key);
  await expect(
    page.getByText(/The newsroom cannot be reached\. “Moved in a tunnel” is kept on Friday/),
  ).toBeVisible();
  await expect(card).toContainText('not stored yet');
  await page.reload();
  await expect(
    day(page, new RegExp(`^${longDate(later(monday(12), 4))}`)).getByRole('button', {
      name: /^Moved in a tunnel/,
    }),
  ).toContainText('not stored yet');
  await page.unroute('**/api/posts/**');
  await expect(page.getByText('1 move that waited is stored now.')).toBeVisible({ timeout: 60_000 });
  await expect(card).not.toContainText('not stored yet');
  expect(
    ((await (await page.request.get(`/api/posts/${id}`)).json()) as { runLocal: string }).runLocal,
  ).toMatch(new RegExp(`^${later(monday(12), 4)}T`));
});

test('a move made offline is given back with a sentence when somebody else was there first', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow', planner(14));
  const id = await dated(page, 'Lost in a tunnel', `${later(monday(14), 5)}T09:00`);
  const card = page.getByRole('button', { name: /^Lost in a tunnel, commissioned/ });
  await expect(card).toBeVisible();
  await page.route('**/api/posts/**', (route) => route.abort());
  await card.focus();
  for (const key of ['Space', 'ArrowLeft', 'Space']) await page.keyboard.press(key);
  await expect(card).toContainText('not stored yet');
  const halden = await comeIn(browser, 'Halden Byre');
  const { version } = (await (await halden.request.get(`/api/posts/${id}`)).json()) as { version: number };
  expect(
    (
      await halden.request.patch(`/api/posts/${id}`, {
        headers: { 'If-Match': `"${version}"` },
        data: { runAt: `${later(monday(14), 6)}T09:00` },
      })
    ).ok(),
  ).toBe(true);
  await page.unroute('**/api/posts/**');
  await expect(
    page.getByText(/“Lost in a tunnel” was not moved\. Halden Byre changed the run time of this post/),
  ).toBeVisible({ timeout: 60_000 });
  await expect(
    day(page, new RegExp(`^${longDate(later(monday(14), 6))}`)).getByRole('button', {
      name: /^Lost in a tunnel/,
    }),
  ).toBeVisible();
});

test('in the lanes a card goes to another writer and day, and warns where the writer is away', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow');
  await dated(page, 'Reassigned', `${later(monday(16), 0)}T08:00`, 'Petra Kesh');
  await page.goto('/desk/planner/absences');
  await choose(page.getByLabel('Who', { exact: true }), 'Tobias Orme');
  await page.getByLabel('First day').fill(later(monday(16), 1));
  await page.getByLabel('Last day').fill(later(monday(16), 0));
  await page.getByRole('button', { name: 'Enter the absence' }).click();
  await expect(page.getByRole('alert')).toHaveText(/before it begins\.$/);
  await page.getByLabel('Last day').fill(later(monday(16), 3));
  await page.getByLabel('Note').fill('Blacking the hull');
  await page.getByRole('button', { name: 'Enter the absence' }).click();
  await expect(page.getByText(/Tobias Orme is away /)).toBeVisible();

  await page.goto(`/desk/planner?view=people&from=${monday(16)}&weeks=1`);
  const cell = (who: string, days: number) =>
    page.getByRole('cell', { name: new RegExp(`^${who}, ${longDate(later(monday(16), days))}`) });
  await expect(cell('Tobias Orme', 1)).toHaveAttribute('title', /Blacking the hull/);
  await drag(page, page.getByRole('button', { name: /^Reassigned/ }), cell('Tobias Orme', 1));
  await expect(page.getByText(/Tobias Orme writes it\./)).toBeVisible();
  const card = cell('Tobias Orme', 1).getByRole('button', { name: /^Reassigned/ });
  await expect(card).toHaveAttribute('title', /Tobias Orme is away/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(cell('Petra Kesh', 0).getByRole('button', { name: /^Reassigned/ })).toBeVisible();
});
