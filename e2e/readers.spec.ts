import { expect } from '@playwright/test';
import { choose, comeIn, newPage, test, undo } from './people.js';

const FROST = 'Frost on the Hallow Steps';

test('a reader comments, an editor approves and takes it back, and answers', async ({ browser }) => {
  const editor = await comeIn(browser, 'Edda Thorne', '/desk/comments');
  await expect(editor.getByRole('article', { name: 'Comment by Pip' })).toBeVisible();
  const reader = await newPage(browser);
  await reader.goto('/search?q=frost+hallow+steps');
  await reader.getByRole('main').getByRole('link', { name: FROST }).first().click();
  const comments = reader.getByRole('region', { name: /comments$/ });
  await expect(comments).toContainText('The fourth step from the bottom');
  await comments.getByLabel('Your comment').fill('We turned back at the ninth.\n\nThe tea was good.');
  await comments.getByLabel('Your name, as others will read it').fill('Ottoline');
  await comments.getByRole('button', { name: 'Send' }).press('Enter');
  await expect(reader.getByRole('heading', { name: 'Thank you' })).toBeVisible();
  // It is before who moderates without anything being asked for.
  const waiting = editor.getByRole('article', { name: 'Comment by Ottoline' });
  await expect(waiting).toContainText('We turned back at the ninth.');
  await expect(waiting).toContainText('first comment');

  await editor.getByRole('checkbox', { name: 'Choose the comment by Ottoline' }).check();
  await editor.getByRole('checkbox', { name: 'Choose the comment by Pip' }).check();
  await editor.getByRole('button', { name: 'Approve 2 comments' }).click();
  await expect(waiting).toBeHidden();
  await undo(editor, '2 comments approved.');
  await expect(waiting).toBeVisible();
  await waiting.getByRole('button', { name: 'Answer Ottoline' }).click();
  await waiting.getByLabel('Your answer to Ottoline').fill('Come in April, and bring the tea.');
  await waiting.getByRole('button', { name: 'Send the answer' }).click();
  await expect(waiting).toBeHidden();
  await reader.getByRole('link', { name: /^Back to/ }).click();
  await expect(comments).toContainText('We turned back at the ninth.');
  await expect(comments.getByText('Edda Thorne')).toBeVisible();
  await expect(comments).toContainText('Come in April');
  // Who is known by now waits no more.
  await comments.getByLabel('Your comment').fill('We shall.');
  await comments.getByLabel('Your name, as others will read it').fill('Ottoline');
  await comments.getByRole('button', { name: 'Send' }).click();
  await expect(comments).toContainText('We shall.');
});

test('a part comes to a reader in its time, and what they have is not taken without a question', async ({
  browser,
}) => {
  const reader = await newPage(browser);
  await reader.goto('/hull-reeds-part-one');
  const parts = reader.getByRole('navigation', { name: 'The hull in the reeds' });
  await expect(parts).toContainText('More parts come to you by and by.');
  await expect(parts.getByRole('listitem')).toHaveCount(1);
  const page = await comeIn(browser, 'Mara Winslow', '/desk/planner/serials');
  const due = page.getByRole('list', { name: 'What comes to this reader when' });
  await expect(due.getByRole('listitem')).toHaveCount(6);
  await expect(due.getByText(/^due since/)).toHaveCount(2);
  const second = page.getByRole('group', { name: 'Delay of What the surveyor tapped' });
  await second.getByLabel('days').fill('20');
  await second.getByLabel('days').press('Tab');
  await expect(page.getByRole('note')).toContainText('comes to readers before');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  const question = page.getByRole('alertdialog');
  await expect(question).toContainText(
    /“What the surveyor tapped” would be taken from \d+ readers who have it/,
  );
  await question.getByRole('button', { name: 'Cancel' }).click();
  await second.getByLabel('days').fill('0');
  await second.getByLabel('days').press('Tab');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('Saved. Readers get the parts like this from now on.')).toBeVisible();
  await expect(async () => {
    await reader.reload();
    await expect(parts.getByRole('listitem')).toHaveCount(2, { timeout: 500 });
  }).toPass();
  await second.getByLabel('days').fill('1');
  await second.getByLabel('days').press('Tab');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await question.getByRole('button', { name: 'Save all the same' }).click();
  await expect(question).toBeHidden();
  await expect(async () => {
    await reader.reload();
    await expect(parts.getByRole('listitem')).toHaveCount(1, { timeout: 500 });
  }).toPass();
});

test('what needs a password says nothing of itself, and opens for who has it', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow');
  const { posts } = (await (await page.request.get('/api/posts?words=moorings&stage=published')).json()) as {
    posts: { title: string; slug: string }[];
  };
  const post = posts.find((p) => p.title === 'Moorings we would rather keep to ourselves')!;
  const reader = await newPage(browser);
  await reader.goto(`/${post.slug}`);
  await expect(reader.getByRole('heading', { level: 1 })).toHaveText('This needs a password');
  await expect(reader.getByText('keep to ourselves')).toHaveCount(0);
  await reader.getByLabel('Password').fill('sesame');
  await reader.keyboard.press('Enter');
  await expect(reader.getByText('That is not the password.')).toBeVisible();
  await reader.getByLabel('Password').fill('seven quiet rings');
  await reader.keyboard.press('Enter');
  await expect(reader.getByRole('heading', { level: 1 })).toHaveText(
    'Moorings we would rather keep to ourselves',
  );
});

test('an editor acts from the blog itself, by keys', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow');
  const name = 'Blackberries, by bridge number';
  await page.goto('/search?q=blackberries+bridge+number');
  await page.getByRole('main').getByRole('link', { name }).first().click();
  const key = page.getByRole('button', { name: `${name}: what you can do` });
  await key.focus();
  await page.keyboard.press('Enter');
  const sheet = page.getByRole('region', { name, exact: true });
  await expect(sheet).toContainText(/read \d+ times/);
  await sheet.getByRole('button', { name: 'Hold it on top for a week' }).press('Enter');
  await expect(page.getByRole('status')).toHaveText('It is held on top for a week.');
  const reader = await newPage(browser);
  await reader.goto('/');
  await expect(reader.getByRole('article').filter({ hasText: name })).toContainText('In the spotlight');
  await expect(reader.getByRole('button', { name: /what you can do/ })).toHaveCount(0);
  await key.click();
  await sheet.getByRole('button', { name: 'Hold it on top no more' }).click();
  await expect(page.getByRole('status')).toHaveText('It is held on top no more.');
  await page.getByLabel('Begin a post').fill('Begun at the foot of a page');
  await page.getByRole('button', { name: 'Begin', exact: true }).click();
  await expect(page).toHaveURL(/\/desk\/posts\/\d+/);
  await expect(page.getByText('Begun at the foot of a page').first()).toBeVisible();
});

test.describe('on a phone', () => {
  test('a draft is written down without a connection and arrives later, once', async ({ browser }) => {
    const there = await comeIn(browser, 'Jun Marlowe');
    const context = await browser.newContext({
      storageState: await there.context().storageState(),
      viewport: { width: 390, height: 844 },
      hasTouch: true,
      serviceWorkers: 'allow',
    });
    const page = await context.newPage();
    await page.goto('/desk/capture');
    await expect(page.getByRole('heading').first()).toBeVisible();
    await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
    // The shell is there once nothing of it is fetched any more.
    const { assetGroups } = (await (await page.request.get('/desk/ngsw.json')).json()) as {
      assetGroups: { name: string; urls: string[] }[];
    };
    const shell = assetGroups.find((g) => g.name === 'shell')!.urls;
    await expect
      .poll(() =>
        page.evaluate(
          async (urls) => (await Promise.all(urls.map((url) => caches.match(url)))).every(Boolean),
          shell,
        ),
      )
      .toBe(true);
    await expect.poll(() => page.evaluate(() => !!navigator.serviceWorker.controller)).toBe(true);
    await context.setOffline(true);
    await page.goto('/desk/today');
    await expect(page.getByRole('heading', { name: 'Capture' })).toBeVisible();
    await page.getByLabel('Title').fill('Seen from the bus at Cray');
    await page.getByLabel('Text').fill('A heron on the roof.\n\nIt did not move.');
    await choose(page.getByRole('combobox', { name: 'Category' }), 'Galley');
    await page.getByRole('button', { name: 'Keep the draft' }).click();
    const device = page.getByRole('region', { name: 'On this device' });
    await expect(device).toContainText('Seen from the bus at Cray');
    await page.reload();
    await expect(device).toContainText('Seen from the bus at Cray');
    await context.setOffline(false);
    await page.reload();
    await expect(page.getByRole('region', { name: 'Arrived' })).toContainText('Seen from the bus at Cray');
    await page.reload();
    await expect(device).toBeHidden();
    const { posts } = (await (await there.request.get('/api/posts?words=seen+bus+cray')).json()) as {
      posts: { title: string; words: number }[];
    };
    expect(posts.filter((p) => p.title === 'Seen from the bus at Cray').map((p) => p.words)).toEqual([9]);
    await context.close();
  });
});
