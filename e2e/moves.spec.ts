import { expect } from '@playwright/test';
import { allTheSame, comeIn, commission, newPage, saved, test, textOf, undo } from './people.js';

test('a post is begun without a pitch, released now, withdrawn after a question, and the withdrawal undone', async ({
  browser,
}) => {
  test.slow();
  const page = await comeIn(browser, 'Mara Winslow');
  const title = `Ropes that are never coiled twice ${test.info().retry}`;
  await page.getByRole('button', { name: 'New pitch' }).click();
  const pitch = page.getByRole('dialog', { name: 'New pitch' });
  await pitch.getByLabel('Title').fill(title);
  await pitch.getByRole('combobox', { name: 'Category' }).click();
  await page.getByRole('option', { name: 'Galley' }).click();
  await pitch.getByRole('button', { name: 'Start writing it' }).click();
  await textOf(page).click();
  await page.keyboard.type('Left hand under, right hand over.');
  await saved(page);

  await page.getByRole('button', { name: 'Clear', exact: true }).click();
  await allTheSame(page);
  await expect(page.getByText('Cleared.', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Release now …' }).click();
  const sure = page.getByRole('alertdialog', { name: 'Release it now?' });
  await sure.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByRole('button', { name: 'Release now …' })).toBeVisible();
  await page.getByRole('button', { name: 'Release now …' }).click();
  await sure.getByRole('button', { name: 'Release now' }).click();
  await allTheSame(page);
  const link = page.getByRole('link', { name: 'See it on the blog' });
  await expect(link).toBeVisible({ timeout: 60_000 });
  const address = (await link.getAttribute('href'))!;
  const reader = await newPage(browser);
  await reader.goto(address);
  await expect(reader.getByRole('heading', { level: 1, name: title })).toBeVisible();

  await page.getByRole('button', { name: 'Withdraw …' }).click();
  const asked = page.getByRole('alertdialog', { name: /^Withdraw/ });
  await expect(asked.getByText(/It leaves the blog and its feeds at once/)).toBeVisible();
  await asked.getByRole('button', { name: 'Withdraw' }).click();
  await expect(page.getByText('Withdrawn. Readers no longer see it.').first()).toBeVisible();
  // The newsroom hears of it a moment before the readers' pages do.
  const status = async () => (await reader.goto(address))!.status();
  await expect.poll(status).toBeGreaterThanOrEqual(404);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Readers see it again.')).toBeVisible();
  await expect.poll(status).toBe(200);
});

test('a scheduled post that is unscheduled keeps its date; taking the date away is another thing', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow');
  const id = await commission(page, `A date that stays ${test.info().retry}`, 'Mara Winslow');
  await page.goto(`/desk/posts/${id}`);
  await textOf(page).click();
  await page.keyboard.type('Some words.');
  await saved(page);
  await page.getByRole('button', { name: 'Clear', exact: true }).click();
  await allTheSame(page);
  await page.getByRole('button', { name: 'Schedule …' }).click();
  await page.getByLabel('Date', { exact: true }).fill('2031-03-04');
  await page.getByLabel('Time, Europe/London').fill('07:45');
  await page.getByRole('button', { name: /^Schedule for/ }).click();
  await allTheSame(page);
  await page.getByRole('button', { name: 'Unschedule' }).click();
  await expect(page.getByText(/planned for .*4 March 2031 at 07:45/).first()).toBeVisible();
  await page.getByRole('button', { name: 'Remove the date' }).click();
  await expect(page.getByText('Its run time was removed.').first()).toBeVisible();
  await expect(page.getByText(/^planned for/)).toHaveCount(0);
  await undo(page, 'Its run time was removed.');
  await expect(page.getByText(/^planned for .*4 March 2031 at 07:45/)).toBeVisible();
});

test('what is typed right after / is kept, and Enter opens the first hit', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow');
  await page.route('**/api/find*', async (route) => {
    await new Promise((go) => setTimeout(go, 700));
    await route.continue();
  });
  // As fast as fingers go, and before the line is there.
  await page.keyboard.type('/lentils');
  await expect(page.getByRole('combobox', { name: 'Find or do anything' })).toHaveValue('lentils');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/desk\/posts\/\d+$/);
  await expect(page.getByLabel('Title', { exact: true })).toHaveValue(/^Lentils/);
});

test('the panel for many posts opens and closes without losing what is chosen', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/archive');
  await page
    .getByRole('checkbox', { name: /^Choose (?!everything)/ })
    .nth(1)
    .check();
  const panel = page.getByRole('complementary', { name: 'Change many posts' });
  await expect(panel).toBeVisible();
  await page.getByRole('button', { name: 'Change many' }).click();
  await expect(panel).toBeHidden();
  await expect(page.getByText(/1 of \d+ chosen/)).toBeVisible();
  await page.getByRole('button', { name: 'Change many' }).click();
  await expect(panel.getByRole('heading', { name: 'Change 1 post' })).toBeVisible();
});

test('a page that a role does not open says so', async ({ browser }) => {
  const page = await comeIn(browser, 'Tobias Orme', '/desk/site/formats');
  const closed = page.getByRole('heading', { name: 'This page is not open to you' });
  await expect(closed).toBeVisible();
  for (const path of ['/desk/site', '/desk/archive/batches']) {
    await page.goto(path);
    await expect(closed).toBeVisible();
  }
});

test('several edits of one post, one after the other, never conflict with oneself', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow');
  const id = await commission(page, `Lamps along the feeder ${test.info().retry}`, 'Mara Winslow');
  // Slow, so that each is still on its way when the next is made.
  await page.route(`**/api/posts/${id}`, async (route) => {
    if (route.request().method() === 'PATCH') await new Promise((go) => setTimeout(go, 400));
    await route.continue();
  });
  await page.goto(`/desk/archive?open=${id}`);
  const details = page.getByRole('complementary', { name: 'Details of the post' });
  await details.getByLabel(/^Excerpt/).fill('Two lamps.');
  await details.getByLabel('Subtitle').fill('And a feeder');
  const tags = details.getByLabel('Add a tag');
  await tags.fill('lamps');
  await tags.press('Enter');
  await tags.pressSequentially('feeder');
  await tags.press('Enter');
  await expect(details.getByRole('row').filter({ hasText: 'feeder' })).toBeVisible();
  await expect(details.getByRole('alert')).toHaveCount(0);
  const post = (await (await page.request.get(`/api/posts/${id}`)).json()) as {
    excerpt: string;
    subtitle: string;
    tags: { name: string }[];
  };
  expect([post.excerpt, post.subtitle, post.tags.map((t) => t.name).sort()]).toEqual([
    'Two lamps.',
    'And a feeder',
    ['feeder', 'lamps'],
  ]);
});
