import { expect, type Page } from '@playwright/test';
import { comeIn, drag, londonIn, test, choose } from './people.js';

const day = (page: Page, name: RegExp) => page.getByRole('region', { name });
const longDate = (iso: string) =>
  new Intl.DateTimeFormat('en-GB', { weekday: 'long', day: 'numeric', month: 'long', timeZone: 'UTC' })
    .format(new Date(`${iso}T00:00:00Z`))
    .replace(',', '');
const shortDate = (iso: string) =>
  new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' })
    .format(new Date(`${iso}T00:00:00Z`))
    .replace(',', '');
const later = (iso: string, days: number) =>
  new Date(Date.parse(`${iso}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);
/** The Monday so many weeks after this week's. */
const monday = (weeks: number) => {
  const today = londonIn(0).date;
  return later(today, 7 * weeks - ((new Date(`${today}T00:00:00Z`).getUTCDay() + 6) % 7));
};
const planner = (weeks: number, more = '') => `/desk/planner?view=weeks&from=${monday(weeks)}&weeks=2${more}`;

/** A dated post of its own for a test, through the stable interface for programs. */
async function dated(page: Page, title: string, runAt: string, byline = 'Petra Kesh'): Promise<number> {
  const people = (await (await page.request.get('/api/people')).json()) as { id: number; name: string }[];
  const { blog } = (await (await page.request.get('/api/session')).json()) as {
    blog: { categories: { id: number; name: string }[] };
  };
  const answer = await page.request.post('/api/posts', {
    data: {
      title,
      categoryId: blog.categories.find((c) => c.name === 'Engine room')!.id,
      bylineId: people.find((p) => p.name === byline)!.id,
      runAt,
    },
  });
  expect(answer.status()).toBe(201);
  return ((await answer.json()) as { id: number }).id;
}

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
  await dated(page, 'Handed over', `${later(monday(16), 0)}T08:00`, 'Petra Kesh');
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
  await drag(page, page.getByRole('button', { name: /^Handed over/ }), cell('Tobias Orme', 1));
  await expect(page.getByText(/Tobias Orme writes it\./)).toBeVisible();
  const card = cell('Tobias Orme', 1).getByRole('button', { name: /^Handed over/ });
  await expect(card).toHaveAttribute('title', /Tobias Orme is away/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(cell('Petra Kesh', 0).getByRole('button', { name: /^Handed over/ })).toBeVisible();
});

test('a date of a standing slot is skipped; what that does is said before, and taken back after', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/planner/slots');
  await page.getByRole('button', { name: /^Wednesdays 08:00/ }).click();
  const slot = page.getByRole('region', { name: 'Slot', exact: true });
  await expect(slot.getByRole('heading', { name: /^Wednesdays 08:00/ })).toBeVisible();
  const skip = slot.getByRole('button', { name: /^Skip / });
  const which = ((await skip.nth(1).getAttribute('aria-label')) ?? '').replace('Skip ', '');
  await skip.nth(1).click();
  await expect(slot.getByRole('row', { name: new RegExp(which) })).toContainText('skipped');
  await expect(slot.getByRole('status')).toContainText(
    /would stand in no slot any more|fewer in the next 26 weeks/,
  );
  await slot.getByRole('button', { name: 'Save changes' }).click();
  await expect(page.getByText(/Saved: Wednesdays 08:00/)).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: /^Wednesdays 08:00/ }).click();
  await expect(slot.getByRole('row', { name: new RegExp(which) })).toContainText('skipped');
  await slot
    .getByRole('row', { name: new RegExp(which) })
    .getByRole('button', { name: 'As usual' })
    .click();
  await slot.getByRole('button', { name: 'Save changes' }).click();
  await expect(page.getByText(/Saved: Wednesdays 08:00/)).toBeVisible();

  await page.getByRole('button', { name: 'New slot' }).click();
  await slot.getByLabel('Every so many weeks').fill('2');
  await slot.getByLabel('Every so many weeks').press('Tab');
  await expect(slot.getByRole('alert')).toHaveText('Say from when, so that every 2 weeks can be counted.');
  await slot.getByLabel('From').fill(monday(1));
  await slot.getByLabel('From').press('Tab');
  await choose(slot.getByLabel('Weekday'), 'Sunday');
  await expect(slot.getByRole('status')).toContainText(/more slots? would be open/);
  await slot.getByRole('button', { name: 'Put it on the calendar' }).click();
  await expect(page.getByText(/“Every 2 weeks on Sunday 08:00, from .*” is on the calendar\./)).toBeVisible();
  await page.getByRole('button', { name: /^Every 2 weeks on Sunday/ }).click();
  await slot.getByRole('button', { name: 'Remove the slot' }).click();
  await expect(page.getByText(/is off the calendar\./)).toBeVisible();

  const isla = await comeIn(browser, 'Isla Nettle', '/desk/planner/slots');
  await isla.getByRole('button', { name: /^Wednesdays 08:00/ }).click();
  await expect(isla.getByRole('button', { name: /^Skip|^New slot|^Save changes/ })).toHaveCount(0);
});

test('the tray is searched, grouped, sorted and rated, and filled from a CSV file', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow', planner(0));
  await page.getByRole('searchbox', { name: 'Search the tray' }).fill('ghost lock');
  await expect(page.getByRole('button', { name: /, pitch, / })).toHaveCount(1);
  const ghost = page.getByRole('button', { name: /^The ghost at the stop lock, and who started it, pitch/ });
  await ghost.focus();
  await page.keyboard.press('5');
  await expect(
    page.getByText('“The ghost at the stop lock, and who started it” is rated 5 of 5.'),
  ).toBeVisible();
  await page.getByRole('searchbox', { name: 'Search the tray' }).fill('');
  await choose(page.getByLabel('Group by'), 'by rating');
  await expect(page.getByRole('region', { name: 'Rated 5, pitches' })).toContainText(
    'The ghost at the stop lock',
  );
  await choose(page.getByLabel('Sort by'), 'pressing');
  await choose(page.getByLabel('Group by'), 'by nothing');
  // Which ones press, and how much, depends on the day; whatever presses more comes first.
  await expect(page.getByRole('combobox', { name: 'Group by' })).toHaveText('by nothing');
  const days = (await page.getByRole('button', { name: /, pitch, / }).allTextContents()).map((text) => {
    const found = /(\d+) days? to go|today or never|its day has gone by/.exec(text);
    if (!found) return Infinity;
    return found[1] ? Number(found[1]) : found[0].startsWith('today') ? 0 : -1;
  });
  expect(days.length).toBeGreaterThan(10);
  expect(days).toEqual([...days].sort((one, other) => (one < other ? -1 : one > other ? 1 : 0)));
  await page.reload();
  await expect(page.getByRole('combobox', { name: 'Group by' })).toHaveText('by nothing');

  const file = page.getByLabel('Import pitches from a CSV file');
  await file.setInputFiles({
    name: 'wrong.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('name;text\nA;B\n'),
  });
  await expect(page.getByRole('alert')).toContainText('The first row has to name the columns');
  await file.setInputFiles({
    name: 'huge.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(`title\n${'Again\n'.repeat(50_000)}`),
  });
  await expect(page.getByRole('alert')).toContainText('more than 2,000 rows');
  await file.setInputFiles({
    name: 'ideas.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(
      'title,category,not after\nBleeding the stubborn fuel line again,Engine room,\n<img ' +
        'src=x onerror=alert(1)>,Galley,2031-01-31\n',
    ),
  });
  await expect(page.getByRole('alert')).toHaveCount(0);
  await expect(
    page.getByRole('button', { name: /^<img src=x onerror=alert\(1\)>, pitch.*not after Fri 31 Jan 2031/ }),
  ).toBeVisible();
  await expect(
    page.getByRole('button', { name: /^Bleeding the stubborn fuel line again, pitch/ }),
  ).toContainText(/\d+% like “Bleeding a stubborn fuel line”/);
});

test('a pitch that must be on a day asks for it there, and the brief keeps its dates', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow', planner(18));
  const thursday = later(monday(18), 3);
  await page.getByLabel('Type a pitch, Enter to save it').fill('The day the gates open');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: /^The day the gates open, pitch/ }).click();
  const brief = page.getByRole('dialog', { name: 'The day the gates open' });
  await brief.getByLabel('Must be on').fill(thursday);
  await brief.getByLabel('Not after').fill(later(thursday, -3));
  await brief.getByRole('button', { name: 'Save' }).click();
  await expect(brief.getByRole('alert')).toContainText('which its other dates rule out.');
  await brief.getByLabel('Not after').fill('');
  await choose(brief.getByLabel('Rating'), '4 of 5');
  await brief.getByRole('button', { name: 'Save' }).click();
  await expect(
    day(page, new RegExp(`^${longDate(thursday)}`)).getByRole('button', { name: /Wants this day/ }),
  ).toContainText('The day the gates open');
  const pitch = page.getByRole('button', { name: /^The day the gates open, pitch, .*rated 4 of 5/ });
  await pitch.focus();
  await page.keyboard.press('Space');
  await page.keyboard.press('ArrowRight');
  await expect(page.getByText(new RegExp(`It must be on ${shortDate(thursday)}`)).first()).toBeVisible();
  await page.keyboard.press('Escape');
});

test('the planner leaves the house: run list, print, and a calendar address that ends', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Edda Thorne', planner(0));
  await page.getByRole('button', { name: 'Export' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'Run list as CSV' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('run-list.csv');
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByRole('heading', { name: /^wk \d+/ }).first()).toBeVisible();
  await expect(page.getByRole('heading', { name: /^Pitch tray/ })).toBeHidden();
  await expect(page.getByRole('navigation', { name: 'Sections' })).toBeHidden();
  await page.emulateMedia({ media: 'screen' });

  await page.goto('/desk/planner/calendars');
  const whole = page.getByRole('region', { name: 'The whole calendar' });
  await whole.getByRole('button', { name: 'Make an address' }).click();
  const address = await whole.getByLabel('Subscribe to this address').inputValue();
  const stranger = await browser.newContext();
  const read = await stranger.request.get(address);
  expect(read.headers()['content-type']).toContain('text/calendar');
  expect(await read.text()).toContain('SUMMARY:Dumplings');
  await whole.getByRole('button', { name: 'End this address' }).click();
  await expect(page.getByText('The address has ended.', { exact: false })).toBeVisible();
  expect((await stranger.request.get(address)).status()).toBe(404);
  await stranger.close();
});

test('capacity is set, seen and kept from others; the rhythm is drawn and told in words', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/planner/capacity');
  const field = page.getByLabel('Posts a week, Rosalind Achter');
  await field.fill('1.5');
  await field.press('Tab');
  await expect(page.getByText('A whole number from 0 to 50.')).toBeVisible();
  await field.fill('3');
  await field.press('Tab');
  await expect(page.getByText('Rosalind Achter: 3 a week.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(field).toHaveValue('1');
  const isla = await comeIn(browser, 'Isla Nettle', '/desk/planner/capacity');
  await expect(isla.getByRole('row', { name: /Rosalind Achter/ })).toBeVisible();
  await expect(isla.getByLabel(/^Posts a week/)).toHaveCount(0);

  await page.goto('/desk/planner/rhythm');
  await expect(page.getByRole('heading', { name: /^Behind us: (steady|uneven|in bursts)$/ })).toBeVisible();
  await expect(page.getByText(/: a post every \d/).first()).toBeVisible();
  await page.getByText('The weeks as figures').click();
  await expect(page.getByRole('table', { name: 'Posts a week' }).getByRole('row')).toHaveCount(27);
  await page.getByRole('region', { name: 'Gaps' }).getByRole('link').first().click();
  await expect(page).toHaveURL(/\/desk\/planner\?.*day=/);
});
