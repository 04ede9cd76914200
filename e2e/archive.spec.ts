import { expect, type Page } from '@playwright/test';
import { comeIn, newPage, tabTo, test, choose } from './people.js';

const grid = (page: Page) => page.getByRole('grid', { name: 'Posts' });
const line = (page: Page) => page.getByRole('combobox', { name: /^Find posts/ });
const rows = (page: Page) =>
  grid(page)
    .getByRole('row')
    .filter({ has: page.getByRole('link') });

/**
 * So many published posts under one account, as they come from another system. Returns the account's name.
 */
async function imported(page: Page, count: number): Promise<string> {
  const name = 'Imported account';
  const made = await page.request.post('/api/people', {
    data: {
      name,
      email: 'imported@halfwaylock.example',
      password: 'nobody signs in as this',
      role: 'contributor',
      categories: [],
    },
  });
  const { id } = (await made.json()) as { id: number };
  const session = (await (await page.request.get('/api/session')).json()) as {
    blog: { categories: { id: number; name: string }[] };
  };
  const engine = session.blog.categories.find((c) => c.name === 'Engine room')!.id;
  for (let at = 0; at < count; at += 20)
    await Promise.all(
      Array.from({ length: Math.min(20, count - at) }, (_, i) =>
        page.request.post('/api/posts', {
          data: { title: `From the old site, part ${at + i + 1}`, categoryId: engine, bylineId: id },
        }),
      ),
    );
  return name;
}

test(
  'an imported account’s 200 posts go to their writer, all but two, and are taken back ' +
    'after one was edited',
  async ({ browser }) => {
    test.slow();
    const page = await comeIn(browser, 'Mara Winslow');
    await imported(page, 200);
    await page.goto('/desk/archive');
    await line(page).fill('byline:imp');
    await page.getByRole('option', { name: 'Imported account' }).click();
    await expect(page.getByText('200 posts match')).toBeVisible();
    await grid(page).focus();
    await page.keyboard.press('Control+a');
    await expect(page.getByText('200 of 200 chosen')).toBeVisible();
    const panel = page.getByRole('complementary', { name: 'Change many posts' });
    await choose(panel.getByLabel('Add a change'), 'Byline becomes …');
    await choose(panel.getByLabel(/^Byline/), 'Tobias Orme');
    await panel.getByRole('button', { name: 'Add this change' }).click();
    await expect(panel.getByText('200 will change · 0 already so · 0 refused')).toBeVisible();
    for (const title of ['part 199', 'part 198'])
      await panel.getByRole('button', { name: `Leave out: From the old site, ${title}` }).click();
    await expect(panel.getByText('198 will change · 0 already so · 0 refused · 2 left out')).toBeVisible();
    await panel.getByRole('button', { name: 'Apply to 198 posts' }).click();
    await expect(panel.getByText('Byline becomes Tobias Orme: done in 198 posts.')).toBeVisible();
    // Two still match; the table says that it moved on.
    await page.getByRole('button', { name: /sort again$/ }).click();
    await expect(page.getByText('2 posts match')).toBeVisible();

    // The next day somebody has edited one of them.
    const one = (await (await page.request.get('/api/posts?words=%22part+7%22')).json()) as {
      posts: { id: number; version: number; title: string }[];
    };
    const post = one.posts.find((p) => p.title === 'From the old site, part 7')!;
    const isla = (
      (await (await page.request.get('/api/people')).json()) as { id: number; name: string }[]
    ).find((p) => p.name === 'Isla Nettle')!.id;
    expect(
      (
        await page.request.patch(`/api/posts/${post.id}`, {
          headers: { 'If-Match': String(post.version) },
          data: { bylineId: isla },
        })
      ).ok(),
    ).toBe(true);

    await page.goto('/desk/archive/batches');
    await page
      .getByRole('row', { name: /Byline becomes Tobias Orme/ })
      .first()
      .getByRole('button', { name: 'Undo' })
      .click();
    const before = page.getByRole('region', { name: 'Before it is written' });
    await expect(before.getByText('197 will change · 1 nothing to do · 0 refused')).toBeVisible();
    // What was changed since stands first.
    await expect(before.getByRole('listitem').first()).toContainText(
      /part 7.*byline changed since and kept/s,
    );
    await before.getByRole('button', { name: 'Undo in 197 posts' }).click();
    await expect(page.getByText(/Undone: Byline becomes Tobias Orme: done in 197 posts/)).toBeVisible();
    const count = async (who: string) =>
      (
        (await (
          await page.request.get(
            `/api/archive/counts?line=${encodeURIComponent(`byline:"${who}" "old site"`)}`,
          )
        ).json()) as { total: number }
      ).total;
    expect([await count('Imported account'), await count('Isla Nettle'), await count('Tobias Orme')]).toEqual(
      [199, 1, 0],
    );

    // The tray of the tests after this one is left as it was.
    const away = (await (
      await page.request.post('/api/batches', {
        data: { changes: [{ kind: 'bin' }], line: '"old site, part"' },
      })
    ).json()) as { id: number };
    await page.request.post(`/api/batches/${away.id}/apply`, { data: {} });
    await expect(async () => {
      expect(
        ((await (await page.request.get(`/api/batches/${away.id}`)).json()) as { state: string }).state,
      ).toBe('applied');
    }).toPass();
  },
);

test('details in place, by keyboard alone', async ({ browser }) => {
  const page = await comeIn(
    browser,
    'Mara Winslow',
    '/desk/archive?line=tag:winter+stage:published&sort=title',
  );
  await expect(rows(page).first()).toBeVisible();
  const titles = await rows(page).getByRole('link').allTextContents();
  await line(page).focus();
  await page.keyboard.press('ArrowDown');
  await expect(grid(page)).toBeFocused();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  const details = page.getByRole('complementary', { name: 'Details of the post' });
  const title = details.getByLabel('Title', { exact: true });
  await expect(title).toHaveValue(titles[1]!);
  await tabTo(page, details.getByLabel(/^Excerpt/));
  await page.keyboard.press('Control+a');
  await page.keyboard.type('Written without a mouse.');
  // The next row, from within a field: what was typed is stored on the way.
  await page.keyboard.press('Alt+ArrowDown');
  await expect(title).toHaveValue(titles[2]!);
  await expect(details.getByLabel(/^Excerpt/)).toBeFocused();
  await page.keyboard.press('Alt+ArrowUp');
  await expect(title).toHaveValue(titles[1]!);
  await expect(details.getByLabel(/^Excerpt/)).toHaveValue('Written without a mouse.');
  await title.focus();
  await page.keyboard.press('Control+a');
  await page.keyboard.press('Delete');
  await page.keyboard.press('Tab');
  await expect(details.getByRole('alert')).toContainText('The title was not saved. A post needs a title.');
  await expect(title).toHaveValue(titles[1]!);
  await page.keyboard.press('Escape');
  await expect(details).toHaveCount(0);
  await expect(grid(page)).toBeFocused();
});

test('the line finds by words and filters, is in the address, and is kept and shared', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/archive');
  await line(page).fill('"raw water" ');
  await expect(rows(page).first()).toContainText('raw water');
  await expect(page).toHaveURL(/line=%22raw%20water%22/);
  await line(page).fill('"raw water" stage:draf');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page.getByText('No post matches. Use fewer words or filters.')).toBeVisible();
  await page.getByRole('button', { name: 'Remove: stage drafting' }).click();
  await page
    .getByRole('group', { name: 'Stages of what matches' })
    .getByRole('button', { name: /^published/ })
    .click();
  await expect(page.getByRole('button', { name: 'Remove: stage published' })).toBeVisible();
  await grid(page).getByRole('button', { name: 'Tobias Orme' }).first().click();
  await expect(page.getByRole('button', { name: 'Remove: byline Tobias Orme' })).toBeVisible();
  await line(page).fill('byline:Nobodyatall ');
  await expect(page.getByText('There is no byline “Nobodyatall” on this blog.')).toBeVisible();
  await page.getByRole('button', { name: /^Remove: byline Nobodyatall/ }).click();
  await page.getByRole('button', { name: 'Saved filters ▾' }).click();
  await page.getByRole('menuitem', { name: 'Save this filter for everybody …' }).click();
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Pumps by Tobias');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByText('“Pumps by Tobias” is saved.')).toBeVisible();

  const other = await comeIn(browser, 'Isla Nettle', '/desk/archive');
  await other.getByRole('button', { name: 'Saved filters ▾' }).click();
  await other.getByRole('menuitem', { name: /^Pumps by Tobias/ }).click();
  await expect(other.getByRole('button', { name: 'Remove: byline Tobias Orme' })).toBeVisible();
  // A contributor finds, and changes nothing.
  await expect(other.getByRole('button', { name: 'Change many' })).toHaveCount(0);
  await expect(grid(other).getByRole('checkbox')).toHaveCount(0);
  expect(
    (await other.request.post('/api/batches', { data: { changes: [{ kind: 'bin' }], line: '' } })).status(),
  ).toBe(403);
});

test('columns are chosen, ordered and remembered; any column sorts', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/archive?line=stage:published');
  await page.getByRole('button', { name: 'Columns' }).click();
  const columns = page.getByRole('region', { name: 'Columns' });
  await columns.getByLabel('Web address', { exact: true }).check();
  await columns.getByRole('button', { name: 'Words further left' }).click();
  await columns.getByLabel('Dense rows').check();
  await columns.getByRole('button', { name: 'Close' }).click();
  await expect(grid(page).getByRole('columnheader')).toContainText([
    'Title',
    'Byline',
    'Category',
    'Words',
    'Run time',
    'Stage',
    'Web address',
  ]);
  await page.reload();
  await grid(page).getByRole('button', { name: 'Web address' }).click();
  await expect(page).toHaveURL(/sort=slug/);
  await expect(grid(page).getByRole('columnheader', { name: /^Web address/ })).toHaveAttribute(
    'aria-sort',
    'ascending',
  );
  await expect(rows(page).first()).toContainText(/\/a/);
});

test('posts go to the bin, leave the blog, and come back as drafts or never', async ({ browser }) => {
  const page = await comeIn(
    browser,
    'Mara Winslow',
    '/desk/archive?line=stage:published+tag:winter&sort=title',
  );
  await expect(rows(page).first()).toBeVisible();
  const title = (await rows(page).first().getByRole('link').textContent())!;
  const { posts } = (await (
    await page.request.get(`/api/posts?words=${encodeURIComponent(`"${title}"`)}&stage=published`)
  ).json()) as { posts: { title: string; slug: string }[] };
  const { slug } = posts.find((p) => p.title === title)!;
  await grid(page).focus();
  await page.keyboard.press('Space');
  const panel = page.getByRole('complementary', { name: 'Change many posts' });
  await choose(panel.getByLabel('Add a change'), 'To the bin');
  await panel.getByRole('button', { name: 'Add this change' }).click();
  await panel.getByRole('button', { name: 'Apply to 1 post' }).click();
  await expect(panel.getByText('To the bin: done in 1 post.')).toBeVisible();
  const reader = await newPage(browser);
  await expect(async () => {
    expect((await reader.goto(`/${slug}`))?.status()).toBe(410);
  }).toPass();
  await page.goto('/desk/archive?line=in:bin');
  await expect(grid(page).getByText(title)).toBeVisible();
  await grid(page)
    .getByRole('checkbox', { name: `Choose ${title}` })
    .check();
  await page.getByRole('button', { name: 'Erase …' }).click();
  await expect(
    page.getByText(new RegExp(`^“${title}” is erased permanently, with .*This cannot be undone\\.$`)),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Keep in the bin' }).click();
  await page.getByRole('button', { name: 'Restore 1 post as drafts' }).click();
  await expect(page.getByText(`“${title}” is back, as a draft.`)).toBeVisible();
  await page.goto(`/desk/archive?line=${encodeURIComponent(`"${title}"`)}`);
  await expect(rows(page).first()).toContainText('drafting');
});

test('people who have a post open are notified when a batch changes it, and nothing typed is lost', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow');
  const made = (await (
    await page.request.post('/api/posts', {
      data: { title: 'Open on two desks', categoryId: 1, bylineId: 1 },
    })
  ).json()) as { id: number };
  const writer = await comeIn(browser, 'Halden Byre', `/desk/posts/${made.id}`);
  await expect(writer.getByRole('textbox', { name: 'Text of the post' })).toBeVisible();
  await page.goto('/desk/archive?line="two+desks"');
  await expect(rows(page)).toHaveCount(1);
  await grid(page).focus();
  await page.keyboard.press('Space');
  const panel = page.getByRole('complementary', { name: 'Change many posts' });
  await choose(panel.getByLabel('Add a change'), 'Campaign becomes …');
  await panel.getByLabel(/^Campaign/).fill('Spring fair');
  await panel.getByRole('button', { name: 'Add this change' }).click();
  await expect(panel.getByText(/Halden Byre has one of these posts open on a desk/)).toBeVisible();
  await panel.getByRole('button', { name: 'Apply to 1 post' }).click();
  await expect(writer.getByText(/Mara Winslow changed the campaign of this post/)).toBeVisible();
});
