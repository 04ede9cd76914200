import { expect, type Page } from '@playwright/test';
import { comeIn, commission, drag, londonIn, tabTo, test, choose } from './people.js';
import { site } from './sites.js';

const STANDINS = site().standins;
const pieces = (page: Page) => page.getByRole('article');
const behave = (page: Page, outlet: string, form: Record<string, string>) =>
  page.request.post(`${STANDINS}/${outlet}/manners`, {
    form: { slowMs: '0', answer: 'usual', perMinute: '0', ...form },
  });

const SENTENCES = [
  'A swing bridge that sticks wants grease and patience, in that order.',
  'Clear the gravel from the track with a stiff brush before you push at anything.',
  'Three strokes of the grease gun on each nipple are enough for a season.',
  'Push at the far end, where the lever is longest, and never against the stop.',
  'Leave the lever upright and the gate shut when you go.',
];
const body = (sentences: string[]) => ({
  body: {
    type: 'doc',
    content: [
      { type: 'heading', attrs: { level: 2 }, content: [{ type: 'text', text: 'Before you push' }] },
      ...sentences.map((text) => ({ type: 'paragraph', content: [{ type: 'text', text }] })),
    ],
  },
});

/**
 * A post that readers have, with sentences of its own. Its writer is the managing editor, whose posts may
 * skip stages.
 */
async function published(page: Page, title: string): Promise<number> {
  const id = await commission(page, title, 'Mara Winslow');
  const version = async () =>
    ((await (await page.request.get(`/api/posts/${id}`)).json()) as { version: number }).version;
  await page.request.patch(`/api/posts/${id}`, {
    headers: { 'If-Match': String(await version()) },
    data: { excerpt: 'Grease first.' },
  });
  expect(
    (
      await page.request.put(`/api/posts/${id}/body`, {
        headers: { 'If-Match': String(await version()) },
        data: body(SENTENCES),
      })
    ).ok(),
  ).toBe(true);
  for (const move of [
    { to: 'cleared' },
    { to: 'scheduled', runAt: `${londonIn(-120).date}T${londonIn(-120).time.slice(0, 5)}` },
  ])
    expect(await (await page.request.post(`/api/posts/${id}/moves`, { data: move })).text()).toContain(
      'sentence',
    );
  await expect(async () => {
    expect(((await (await page.request.get(`/api/posts/${id}`)).json()) as { stage: string }).stage).toBe(
      'published',
    );
  }).toPass();
  return id;
}

test(
  'pieces of a published post are made, approved and seen where they went; one falls ' +
    'behind the post and is rebuilt',
  async ({ browser }) => {
    test.slow();
    const page = await comeIn(browser, 'Mara Winslow');
    const id = await published(page, 'Freeing a swing bridge');
    await page.goto(`/desk/posts/${id}`);
    await page.getByRole('link', { name: 'Spin-offs of this post' }).click();
    await expect(page.getByText('Nothing is made of this post yet')).toBeVisible();
    await page.getByRole('button', { name: 'Add pieces' }).click();
    const dialog = page.getByRole('dialog', { name: 'Add pieces' });
    for (const kind of ['Short post', 'Quote card', 'Newsletter item'])
      await dialog.getByLabel(kind, { exact: true }).check();
    await expect(dialog.getByLabel('Newsletter item for')).toHaveText(/\w/);
    await choose(dialog.getByLabel('Style of the quote card'), 'stripes');
    await choose(dialog.getByLabel('Shape of the quote card'), 'portrait');
    await dialog.getByLabel('Instruction for the newsletter item').fill('formal, in two sentences');
    await dialog.getByLabel('Instruction for all').fill('warm, for new owners, in 900 characters');
    await expect(dialog.getByText('Understood: at most 900 characters, warm, for new owners.')).toBeVisible();
    await expect(
      dialog.getByText(
        'The instruction asks for 900 characters, and Towline takes 300; it is fitted to 300.',
      ),
    ).toBeVisible();
    await choose(dialog.getByLabel('When', { exact: true }), 'With the release, or minutes after');
    await dialog.getByRole('button', { name: 'Make 3 pieces' }).click();
    await expect(pieces(page)).toHaveCount(3);
    const short = page.getByRole('article', { name: /^Short post for Towline/ });
    await expect(short).toContainText('For new owners:');
    const card = page.getByRole('article', { name: /^Quote card/ }).getByRole('img');
    await expect(async () => {
      expect(await card.evaluate((img: HTMLImageElement) => [img.naturalWidth, img.naturalHeight])).toEqual([
        1080, 1350,
      ]);
    }).toPass();
    // The letter waits, so that it can fall behind.
    await page
      .getByRole('button', { name: /^Newsletter item for The Friday Letter, with the release/ })
      .focus();
    await page.keyboard.press('Alt+ArrowRight');
    await expect(
      page.getByRole('group', { name: 'same day' }).getByRole('button', { name: /^Newsletter item/ }),
    ).toBeVisible();
    await drag(
      page,
      page.getByRole('button', { name: /^Newsletter item for The Friday Letter, same day/ }),
      page.getByRole('group', { name: 'next month' }),
    );
    await expect(
      page.getByRole('group', { name: 'next month' }).getByRole('button', { name: /^Newsletter item/ }),
    ).toBeVisible();
    await page.getByRole('button', { name: 'Approve rollout' }).click();
    await expect(page.getByText('All pieces go out when they are due.')).toBeVisible();
    await expect(page.getByRole('article', { name: 'Short post for Towline, sent' })).toBeVisible({
      timeout: 60_000,
    });
    await expect(page.getByRole('article', { name: 'Quote card for Porthole, sent' })).toBeVisible({
      timeout: 60_000,
    });

    await test.step('readers of the outlets see them', async () => {
      const outside = await page.context().newPage();
      await outside.goto(`${STANDINS}/towline/`);
      await expect(
        outside
          .getByRole('article')
          .filter({ hasText: /For new owners:\s+.*(bridge|gravel|grease|lever)/i })
          .first(),
      ).toContainText('views');
      await outside.goto(`${STANDINS}/porthole/`);
      await expect(
        outside.getByRole('article').filter({ hasText: 'Freeing a swing bridge' }).getByRole('img'),
      ).toHaveAttribute('alt', /^A portrait card with a quotation: “/);
      await outside.close();
    });

    await test.step('the post is changed, and the letter says so', async () => {
      const used = await page.evaluate(
        async (post) =>
          (
            (await (await fetch(`/api/posts/${post}/rollout`)).json()) as {
              pieces: { kind: string; parts: string[] }[];
            }
          ).pieces.find((p) => p.kind === 'newsletter item')!.parts[0]!,
        id,
      );
      const changed = SENTENCES.map((s) => (used.includes(s) ? s.replace(/\.$/, ', every spring.') : s));
      const version = ((await (await page.request.get(`/api/posts/${id}`)).json()) as { version: number })
        .version;
      await page.request.put(`/api/posts/${id}/body`, {
        headers: { 'If-Match': String(version) },
        data: body(changed),
      });
      // Pieces are made of what readers see.
      await page.request.post(`/api/posts/${id}/updates`, {
        headers: { 'If-Match': String(version + 1) },
        data: {},
      });
      // Told by the server, without a reload.
      await expect(page.getByText('1 behind the post')).toBeVisible();
      const letter = page.getByRole('article', { name: /^Newsletter item .* behind the post$/ });
      await letter.getByRole('button', { name: 'Compare' }).click();
      const moved = page.getByRole('region', { name: 'The post moved on' });
      await expect(moved).toContainText(/sentences? that it is built from changed/);
      await expect(moved.locator('ins').first()).toContainText('every spring');
      await moved.getByRole('button', { name: 'Rebuild from the post as it is' }).click();
      await expect(page.getByLabel(/^Text/)).toHaveValue(/every spring/);
      await expect(moved).toHaveCount(0);
      await expect(page.getByText('1 behind the post')).toHaveCount(0);
    });

    await test.step('a person’s words are not written over without asking, and earlier versions come back', async () => {
      await page.getByLabel(/^Text/).fill('Mine, word for word.');
      await page.getByRole('button', { name: 'Save', exact: true }).click();
      await expect(page.getByText('Its words were edited by hand.')).toBeVisible();
      await page.getByRole('button', { name: 'Another version' }).click();
      const ask = page.getByRole('alertdialog', { name: 'Write over edited words' });
      await ask.getByRole('button', { name: 'Keep my words' }).click();
      await expect(page.getByLabel(/^Text/)).toHaveValue('Mine, word for word.');
      await page.getByRole('button', { name: 'Another version' }).click();
      await ask.getByRole('button', { name: 'Write over them' }).click();
      await expect(page.getByLabel(/^Text/)).not.toHaveValue('Mine, word for word.');
      await page.getByRole('button', { name: 'Restore: Mine, word for word.' }).click();
      await expect(page.getByLabel(/^Text/)).toHaveValue('Mine, word for word.');
      await expect(page.getByText('Its words were edited by hand.')).toBeVisible();
      // Shading others rebuilds, and asks first, too.
      const line = page.getByRole('button', { name: /^Three strokes of the grease gun/ });
      const shaded = page
        .getByRole('complementary', { name: 'The post' })
        .getByRole('button', { pressed: true });
      await expect(shaded).not.toHaveCount(0);
      for (let left = await shaded.count(); left > 0; left--) {
        await shaded.first().click();
        await expect(shaded).toHaveCount(left - 1);
      }
      await line.click();
      await page.getByRole('button', { name: 'Rebuild from 1 sentence' }).click();
      await ask.getByRole('button', { name: 'Write over them' }).click();
      await expect(page.getByLabel(/^Text/)).toHaveValue(/^Three strokes of the grease gun/);
    });
  },
);

test('a lost answer where the outlet cannot tell is put to a person, and the switch stops everything', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow');
  // A second try has a post of its own.
  const title = `Oiling a paddle pawl ${test.info().retry + 1}`;
  const id = await published(page, title);
  await behave(page, 'porthole', { losesAnswers: 'on' });
  await page.goto(`/desk/posts/${id}/spinoffs`);
  await page.getByRole('button', { name: 'Add pieces' }).click();
  const dialog = page.getByRole('dialog', { name: 'Add pieces' });
  await dialog.getByLabel('Short post', { exact: true }).check();
  await choose(dialog.getByLabel('Short post for'), 'Porthole');
  await choose(dialog.getByLabel('When', { exact: true }), 'With the release, or minutes after');
  await dialog.getByRole('button', { name: 'Make the piece' }).click();
  await page.getByRole('button', { name: 'Approve rollout' }).click();
  await expect(
    page.getByRole('article', { name: 'Short post for Porthole, may have been sent' }),
  ).toBeVisible({ timeout: 60_000 });
  await behave(page, 'porthole', {});
  await page.goto('/desk/outlets/log');
  const row = page.getByRole('row', { name: title });
  await expect(row).toContainText('may have been sent');
  await row.getByRole('button', { name: 'It is there' }).click();
  await expect(row).not.toContainText('may have been sent');
  await expect(row).toContainText('sent');
  await page.getByRole('button', { name: 'Stop all sending' }).click();
  await expect(page.getByRole('alert')).toContainText('All sending is stopped by Mara Winslow');
  // Everybody sees it, and those who may not cannot let it go on.
  const writer = await comeIn(browser, 'Isla Nettle', '/desk/outlets');
  await expect(writer.getByRole('alert')).toContainText('All sending is stopped');
  await expect(writer.getByRole('button', { name: 'Resume sending' })).toHaveCount(0);
  expect((await writer.request.put('/api/sending', { data: { stopped: false } })).status()).toBe(403);
  await page.getByRole('button', { name: 'Resume sending' }).click();
  await expect(page.getByText('All sending is stopped')).toHaveCount(0);
});

test('an outlet is added, asked and paused, and pieces are made and approved with the keyboard alone', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/outlets');
  await page.getByRole('button', { name: 'New outlet' }).click();
  const form = page.getByRole('form', { name: 'New outlet' });
  await form.getByLabel('Name', { exact: true }).fill('Towline for fitters');
  await form.getByRole('button', { name: 'Add the outlet' }).click();
  await expect(form.getByRole('alert')).toHaveText(
    'Give the address where it takes pieces; it begins with https://.',
  );
  await form.getByLabel('Micropub endpoint').fill(`${STANDINS}/towline/micropub`);
  await form.getByLabel('Access token').fill('not the right one');
  await form.getByRole('button', { name: 'Add the outlet' }).click();
  const kept = page.getByRole('form', { name: 'Towline for fitters' });
  await kept.getByRole('button', { name: 'Test connection' }).click();
  await expect(kept.getByText('Towline for fitters does not accept the credentials (403).')).toBeVisible();
  await kept.getByLabel('Access token').fill('towline-token');
  await kept.getByRole('button', { name: 'Save changes' }).click();
  await kept.getByRole('button', { name: 'Test connection' }).click();
  await expect(kept.getByText('Towline for fitters knows us and takes pictures.')).toBeVisible();
  await page.getByRole('button', { name: 'Pause Towline for fitters' }).click();
  await expect(page.getByRole('row', { name: /Towline for fitters/ })).toContainText('paused');

  const id = await published(page, 'Splicing a bow rope');
  await page.goto(`/desk/posts/${id}/spinoffs`);
  await expect(page.getByText('Nothing is made of this post yet')).toBeVisible();
  await tabTo(page, page.getByRole('button', { name: 'Add pieces' }));
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog', { name: 'Add pieces' })).toBeVisible();
  await tabTo(page, page.getByLabel('Question', { exact: true }));
  await page.keyboard.press('Space');
  await tabTo(page, page.getByRole('button', { name: 'Make the piece' }));
  await page.keyboard.press('Enter');
  await expect(pieces(page)).toHaveCount(1);
  await tabTo(page, pieces(page).getByRole('button', { name: /^Question/ }));
  await page.keyboard.press('Enter');
  const line = page.getByRole('button', { name: SENTENCES[3]! });
  await tabTo(page, line);
  await expect(line).toHaveAttribute('aria-pressed', /true|false/);
  const before = await line.getAttribute('aria-pressed');
  await page.keyboard.press('Space');
  await expect(line).toHaveAttribute('aria-pressed', before === 'true' ? 'false' : 'true');
  await page.keyboard.press('Escape');
  await expect(pieces(page)).toHaveCount(1);
  await tabTo(page, page.getByRole('button', { name: 'Approve rollout' }));
  await page.keyboard.press('Enter');
  await expect(page.getByText('All pieces go out when they are due.')).toBeVisible();
});

test(
  'a rollout comes from a pattern and is kept as one, older posts are passed on, and ' +
    'the planner shows what goes out',
  async ({ browser }) => {
    const page = await comeIn(browser, 'Mara Winslow');
    const id = await published(page, 'Painting a tiller');
    await page.goto(`/desk/posts/${id}/spinoffs`);
    await page.getByRole('button', { name: 'Pattern ▾' }).click();
    await page.getByRole('menuitem', { name: /^Evergreen how-to/ }).click();
    await expect(page.getByText('5 pieces made.')).toBeVisible();
    await expect(pieces(page)).toHaveCount(5);
    // The list is the other way to a time.
    await page.getByRole('button', { name: 'As a list' }).click();
    const row = page.getByRole('row', { name: /^Checklist/ });
    await choose(row.getByLabel('When'), 'That weekday at');
    await expect(row.getByLabel('Weekday')).toHaveText('Friday');
    await row.getByLabel('Time of day').fill('23:30');
    await row.getByLabel('Time of day').press('Tab');
    await expect(row).toContainText('23:30');
    await page.getByRole('button', { name: 'Pattern ▾' }).click();
    await page.getByRole('menuitem', { name: 'Save this rollout as a pattern …' }).click();
    await page.getByLabel('Name of the pattern').fill('For painters');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await expect(page.getByText('The pattern “For painters” is kept.')).toBeVisible();
    await page.goto('/desk/outlets/patterns');
    await page.getByRole('button', { name: /^For painters/ }).click();
    await expect(page.getByRole('group', { name: 'Piece 5' })).toBeVisible();
    await page.getByRole('button', { name: 'Remove piece 5' }).click();
    await page.getByRole('button', { name: 'Save changes' }).click();
    await expect(page.getByText('The pattern “For painters” is kept.')).toBeVisible();
    await expect(page.getByRole('button', { name: /^For painters/ })).toContainText('that Friday at 23:30');
    await page.getByRole('button', { name: 'Remove the pattern' }).click();
    await page.getByRole('alertdialog').getByRole('button', { name: 'Remove', exact: true }).click();
    await expect(page.getByRole('button', { name: /^For painters/ })).toHaveCount(0);

    await page.goto('/desk/outlets/evergreen');
    const first = page.getByRole('checkbox', { name: /^Pass on / }).first();
    await expect(first).toBeChecked();
    const boxes = await page.getByRole('checkbox', { name: /^Pass on / }).count();
    await first.uncheck();
    await page.getByLabel('With the instruction').fill('brisk');
    await page.getByRole('button', { name: `Make ${boxes - 1} pieces` }).click();
    await expect(page.getByText(/^\s*\d+ pieces? made\./)).toBeVisible();
    await page.goto('/desk/planner?view=weeks');
    await expect(
      page.getByRole('link', { name: /(short post|quote card|professional post) for / }),
    ).toHaveCount(0);
    await page.getByRole('button', { name: /^Show:/ }).click();
    await page.getByRole('menuitemcheckbox', { name: 'pieces that go out' }).click();
    await page.keyboard.press('Escape');
    await expect(
      page
        .getByRole('link', { name: /(short post|quote card|professional post) for .*to be approved/ })
        .first(),
    ).toBeVisible();
  },
);
