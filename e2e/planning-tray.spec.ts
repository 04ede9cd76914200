import { expect } from '@playwright/test';
import { day, longDate, shortDate, later, monday, planner } from './days.js';
import { comeIn, test, choose } from './people.js';

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
    .getByRole('button', { name: 'Reset' })
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
  // Again and again: a list says what is chosen before the pitches are put in order.
  await expect(async () => {
    const days = (await page.getByRole('button', { name: /, pitch, / }).allTextContents()).map((text) => {
      const found = /(\d+) days? to go|today or never|its day has gone by/.exec(text);
      if (!found) return Infinity;
      return found[1] ? Number(found[1]) : found[0].startsWith('today') ? 0 : -1;
    });
    expect(days.length).toBeGreaterThan(10);
    expect(days).toEqual([...days].sort((one, other) => (one < other ? -1 : one > other ? 1 : 0)));
  }).toPass();
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
