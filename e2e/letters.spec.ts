import { expect } from '@playwright/test';
import { allTheSame, comeIn, newPage, saved, test, textOf } from './people.js';
import { site } from './sites.js';

const STANDINS = site().standins;

test('a reader signs up, gets a post as it is released, and leaves the list with one click', async ({
  browser,
}) => {
  test.slow();
  const address = `ottoline${test.info().retry}@readers.example`;
  const reader = await newPage(browser);
  await reader.goto('/');
  const letter = reader.getByRole('complementary').getByRole('textbox', { name: 'E-mail address' });
  await letter.fill(address);
  await letter.press('Enter');
  await expect(reader.getByRole('heading', { name: 'Look into your mail' })).toBeVisible();
  const mail = await newPage(browser);
  const arrived = (words: string) =>
    mail
      .getByRole('article')
      .filter({ hasText: `to ${address}` })
      .filter({ hasText: words });
  await expect(async () => {
    await mail.goto(`${STANDINS}/letterbox/`);
    await expect(arrived('Do you want the letter')).toBeVisible({ timeout: 1000 });
  }).toPass();
  await arrived('Do you want the letter')
    .getByRole('link', { name: /letter\/confirm/ })
    .click();
  await mail.getByRole('button', { name: 'Yes, send me the letter' }).click();
  await expect(mail.getByRole('heading', { name: 'Thank you' })).toBeVisible();

  const page = await comeIn(browser, 'Mara Winslow');
  const title = `A pound that froze in one night ${test.info().retry}`;
  await page.getByRole('button', { name: 'New pitch' }).click();
  const pitch = page.getByRole('dialog', { name: 'New pitch' });
  await pitch.getByLabel('Title').fill(title);
  await pitch.getByRole('combobox', { name: 'Category' }).click();
  await page.getByRole('option', { name: 'Galley' }).click();
  await pitch.getByRole('button', { name: 'Start writing it' }).click();
  await textOf(page).click();
  await page.keyboard.type('By six the boats stood still.');
  await saved(page);
  await page.getByRole('tab', { name: 'Details' }).click();
  await page.getByRole('checkbox', { name: 'Mail it to all subscribers at its release' }).check();
  await page.getByRole('button', { name: 'Clear', exact: true }).click();
  await allTheSame(page);
  await page.getByRole('button', { name: 'Release now …' }).click();
  const sure = page.getByRole('alertdialog', { name: 'Release it now?' });
  await sure.getByRole('button', { name: 'Release now' }).click();
  await allTheSame(page);
  await expect(page.getByRole('link', { name: 'See it on the blog' })).toBeVisible({ timeout: 60_000 });

  await page.goto('/desk/outlets/letters');
  const line = page.getByRole('row').filter({ hasText: title });
  await expect(line).toContainText('with the release of its post');
  await expect(line.getByRole('cell', { name: 'sent', exact: true })).toBeVisible();
  await expect(async () => {
    await mail.goto(`${STANDINS}/letterbox/`);
    await expect(arrived('Unsubscribe').filter({ hasText: title })).toBeVisible({ timeout: 1000 });
  }).toPass();
  const frame = arrived('Unsubscribe').filter({ hasText: title });
  const inside = frame.frameLocator('iframe');
  await expect(inside.getByText('By six the boats stood still.')).toBeVisible();
  await frame.getByRole('button', { name: 'Unsubscribe' }).click();
  await expect(mail.getByText('You are off the list.')).toBeVisible();

  await page.goto('/desk/outlets/subscribers');
  await page.getByRole('radio', { name: /^unsubscribed/ }).click();
  await page.getByLabel('Find by name or address').fill(address);
  await expect(page.getByRole('row').filter({ hasText: address })).toContainText('left');
});

test('an editor drafts a letter from a post, looks at it and tries it, and sends it by the keyboard', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Edda Thorne');
  const posts = (await (await page.request.get('/api/posts?stage=published&limit=1')).json()) as {
    posts: { id: number; title: string }[];
  };
  const [{ id, title }] = posts.posts as [{ id: number; title: string }];
  await page.goto(`/desk/posts/${id}`);
  await page.getByRole('button', { name: 'Post ▾' }).click();
  await page.getByRole('menuitem', { name: 'Draft a letter' }).click();
  await expect(page.getByRole('heading', { level: 1, name: title })).toBeVisible();
  const subject = `Read this first ${test.info().retry}`;
  await page.getByLabel('Subject').fill(subject);
  await page.getByLabel('A few words before the posts').fill('Dear all,\n\none <b>post</b> only.');
  await page.getByRole('button', { name: 'Save', exact: true }).press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: subject })).toBeVisible();
  const shown = page.frameLocator('iframe[title="The letter as it arrives"]');
  await expect(shown.getByText('one <b>post</b> only.')).toBeVisible();
  await page.getByRole('radio', { name: 'Plain text' }).click();
  await expect(page.getByLabel('The letter in plain words')).toContainText(title.toLocaleUpperCase('en'));
  await page.getByRole('button', { name: 'Send a trial to yourself' }).press('Enter');
  await expect(page.getByText('A trial is on its way to edda@halfwaylock.example.')).toBeVisible();
  await page.getByRole('button', { name: /^Send to \d+ subscribers …$/ }).press('Enter');
  const asked = page.getByRole('alertdialog', { name: new RegExp(`Send “${subject}”`) });
  // A question takes the focus when it has opened.
  await expect(asked.getByRole('button', { name: 'Cancel' })).toBeFocused();
  await asked.getByRole('button', { name: /^Send to/ }).press('Enter');
  await expect(page.getByText('What became of it')).toBeVisible();
  await expect(page.getByRole('definition').first()).toHaveText('sent');
  // Somebody else's letter is not for a contributor.
  const writer = await comeIn(browser, 'Isla Nettle', '/desk/outlets/letters');
  await expect(writer.getByText('not open to you')).toBeVisible();
});
