import { expect, type Page } from '@playwright/test';
import {
  caretIn,
  comeIn,
  drag,
  newPage,
  openDraft,
  saved,
  test,
  textOf,
  choose,
  allTheSame,
} from './people.js';

const CAPTIONS = Buffer.from('WEBVTT\n\n00:00.000 --> 00:02.000\nThe gate swings.\n');
/** The first bytes of an MP4, by which it is known; nobody plays it here. */
const FILM = Buffer.concat([Buffer.from([0, 0, 0, 24]), Buffer.from('ftypisom'), Buffer.alloc(500, 7)]);
const check = (page: Page, words: RegExp) =>
  page.getByRole('tabpanel').getByRole('listitem').filter({ hasText: words });

test('a copied post is marked until nothing of its source is left', async ({ browser }) => {
  const page = await comeIn(browser, 'Tobias Orme', '/desk/archive?line=telling+stern+gland+stage:published');
  await page.getByRole('link', { name: 'What a stern gland is telling you' }).click();
  await page.getByRole('button', { name: 'Post ▾' }).click();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  await expect(page.getByText(/This is a copy/)).toBeVisible();
  await expect(check(page, /Left over from the post it was copied from: .*title, excerpt/)).toBeVisible();
  await expect(page.getByTitle('Left over from the post this was copied from').first()).toBeVisible();
  await textOf(page).click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('A propeller hums when it is out of true. Mine sang for a year before I looked.');
  await page.getByLabel('Title', { exact: true }).fill('A propeller that sings');
  await page.getByRole('textbox', { name: 'Excerpt' }).fill('Hum, and then look.');
  await expect(page.getByTitle('Left over from the post this was copied from')).toHaveCount(0);
  await saved(page);
  await page.getByRole('tab', { name: 'Details' }).click();
  const description = page.getByLabel(/^Search description/);
  if ((await description.inputValue()) !== '') {
    await description.fill('');
    await description.press('Tab');
  }
  const away = page.getByRole('button', { name: 'Remove' });
  if (await away.count()) await away.first().click();
  await page.getByRole('tab', { name: /^Checks/ }).click();
  await expect(check(page, /Nothing is left of the post it was copied from/)).toBeVisible();
  await page.reload();
  await expect(check(page, /Nothing is left of the post it was copied from/)).toBeVisible();
});

test('every block is put in, survives a reload, and readers get it', async ({ browser }) => {
  test.slow();
  const page = await comeIn(browser, 'Mara Winslow');
  const id = await openDraft(page, 'Every block there is');
  const insert = async (name: string) => {
    await textOf(page).focus();
    await page.keyboard.press('Control+End');
    await page.keyboard.press('Enter');
    await page.keyboard.press('Control+Alt+0');
    await page.keyboard.press('Control+Alt+i');
    await page.getByRole('combobox', { name: 'Which block?' }).fill(name);
    await page.keyboard.press('Enter');
  };
  await insert('Table of contents');
  await insert('Heading 2');
  await page.keyboard.type('The first part');
  await insert('Check list');
  await page.keyboard.type('kettle');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Enter');
  await insert('Pull quote');
  await page.keyboard.type('Six turns, no more');
  await insert('Note box');
  await page.keyboard.type('Mind the gap.');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Enter');
  await insert('Button');
  const button = page.getByRole('dialog', { name: 'Button' });
  await button.getByLabel('Words on it').fill('See the chart');
  await button.getByLabel('Leads to').fill('javascript:alert(1)');
  await button.getByRole('button', { name: 'Insert' }).click();
  await expect(button.getByText('A button leads to a web address')).toBeVisible();
  await button.getByLabel('Leads to').fill('https://waterways.example/chart');
  await button.getByRole('button', { name: 'Insert' }).click();
  await insert('Sign-up');
  await page
    .getByRole('dialog', { name: 'Sign-up for the letter' })
    .getByLabel('Invitation')
    .fill('A letter on Fridays.');
  await page.getByRole('button', { name: 'Insert', exact: true }).click();
  await insert('Video');
  const video = page.getByRole('dialog', { name: 'Video' });
  await video.getByLabel('Or an address elsewhere').fill('https://films.example/lock');
  await video.getByLabel('Title').fill('Locking down');
  await video.getByRole('button', { name: 'Insert' }).click();
  await insert('Video');
  await video
    .getByLabel(/^(File|Another file)/)
    .setInputFiles({ name: 'captions.vtt', mimeType: 'video/mp4', buffer: CAPTIONS });
  await expect(video.getByRole('alert')).toContainText('Those are captions, not a film.');
  await video
    .getByLabel(/^(File|Another file)/)
    .setInputFiles({ name: 'locking.mp4', mimeType: 'video/mp4', buffer: FILM });
  await expect(video.getByText('The film is kept.')).toBeVisible();
  await video
    .getByLabel(/^Captions/)
    .setInputFiles({ name: 'captions.vtt', mimeType: 'text/vtt', buffer: CAPTIONS });
  await expect(video.getByText('Captions are kept.')).toBeVisible();
  await video.getByRole('button', { name: 'Choose a poster' }).click();
  await page
    .getByRole('dialog', { name: 'Choose a poster' })
    .getByRole('button', { name: /^A sunny basin/ })
    .click();
  await expect(video.getByAltText('The poster you chose')).toBeVisible();
  await video.getByLabel('Title').fill('Our own film');
  await video.getByRole('button', { name: 'Insert' }).click();
  await insert('Gallery');
  const gallery = page.getByRole('dialog', { name: 'Pictures for the gallery' });
  await gallery.getByRole('button', { name: /^A sunny basin/ }).click();
  await gallery.getByRole('button', { name: /^A pot steaming/ }).click();
  await gallery.getByRole('button', { name: 'Insert 2 pictures' }).click();
  await insert('Fold line');
  await insert('Divider');
  await saved(page);
  await page.reload();
  const text = textOf(page);
  await expect(text.getByText('Table of contents')).toBeVisible();
  await expect(text.getByRole('checkbox')).toHaveCount(1);
  await expect(text.getByText('Six turns, no more')).toBeVisible();
  await expect(text.getByText('leads to https://waterways.example/chart')).toBeVisible();
  await expect(text.getByText('Locking down')).toBeVisible();
  await expect(text.getByAltText('A pot steaming on a cast-iron stove.')).toBeVisible();
  await expect(text.getByText('fold: the front page stops here')).toHaveCount(1);

  await page.goto(`/desk/posts/${id}/preview`);
  const preview = page.frameLocator('iframe');
  await expect(
    preview.getByRole('navigation', { name: 'In this post' }).getByRole('link', { name: 'The first part' }),
  ).toHaveAttribute('href', '#first-part');
  await expect(preview.getByText('kettle')).toBeVisible();
  await expect(preview.getByRole('link', { name: 'See the chart' })).toBeVisible();
  await expect(preview.getByRole('main').getByLabel('E-mail address')).toBeVisible();
  await expect(preview.getByRole('link', { name: /Locking down.*films\.example/ })).toHaveAttribute(
    'href',
    'https://films.example/lock',
  );
  await expect(preview.getByAltText('A sunny basin with a crane and moored boats.')).toBeVisible();

  const moved = await page.request.post(`/api/posts/${id}/moves`, {
    data: { to: 'scheduled', runAt: '2021-02-03T08:00' },
  });
  expect(await moved.text()).toContain('"slug"');
  const { slug } = ((await moved.json()) as { post: { slug: string } }).post;
  const reader = await newPage(browser);
  await expect(async () => {
    expect((await reader.goto(`/${slug}`))?.status()).toBe(200);
  }).toPass();
  // The letter has a panel beside the posts, too.
  const letter = reader.getByRole('main');
  await letter.getByLabel('E-mail address', { exact: true }).fill('dot@readers.example');
  await letter.getByRole('button', { name: 'Sign up' }).click();
  await expect(reader.getByRole('heading', { name: 'Look into your mail' })).toBeVisible();
});

test('sections move whole, blocks move past each other, and a section comes from another post', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow');
  await openDraft(page, 'Moved about');
  await page.getByLabel('Import a file').setInputFiles({
    name: 'a.md',
    mimeType: 'text/markdown',
    buffer: Buffer.from('Opening.\n\n## Alpha\n\nFirst.\n\n#### Too deep\n\nUnder.\n\n## Beta\n\nSecond.\n'),
  });
  const outline = page.getByRole('navigation', { name: 'Outline' });
  // A level that a file skips is mended and told; one that a person skips is theirs, and the checks say so.
  await expect(page.getByText('1 heading moved up, since levels were skipped above it.')).toBeVisible();
  await expect(outline.getByRole('button')).toHaveText(['Alpha', /^\s*Too deep\s*$/, 'Beta']);
  await caretIn(page, 'Too deep');
  await page.keyboard.press('Control+Alt+4');
  await expect(outline.getByRole('button')).toHaveText(['Alpha', /Too deep\s*skips a level/, 'Beta']);
  await expect(check(page, /“Too deep” skips a level/)).toBeVisible();
  await outline.getByRole('button', { name: 'Beta' }).focus();
  await page.keyboard.press('Alt+ArrowUp');
  await expect(outline.getByRole('button')).toHaveText(['Beta', 'Alpha', /Too deep/]);
  await expect(outline.getByRole('button', { name: 'Beta' })).toBeFocused();
  // The same by hand, there and back.
  await drag(
    page,
    outline.getByRole('button', { name: 'Beta' }),
    outline.getByRole('button', { name: /Too deep/ }),
  );
  await expect(outline.getByRole('button')).toHaveText(['Alpha', /Too deep/, 'Beta']);
  await drag(
    page,
    outline.getByRole('button', { name: 'Beta' }),
    outline.getByRole('button', { name: 'Alpha' }),
  );
  await expect(outline.getByRole('button')).toHaveText(['Beta', 'Alpha', /Too deep/]);
  await caretIn(page, 'Opening.');
  await page.keyboard.press('Alt+Shift+ArrowDown');
  await expect(textOf(page).locator('> *')).toHaveText([
    'Beta',
    'Opening.',
    'Second.',
    'Alpha',
    'First.',
    'Too deep',
    'Under.',
  ]);
  await page.keyboard.press('Control+Alt+d');
  await expect(textOf(page).getByText('Opening.')).toHaveCount(2);
  await page.keyboard.press('Control+z');
  // By hand: the handle beside a block drags it.
  await textOf(page).getByText('Second.').hover();
  await drag(page, page.getByTitle(/^Drag this block/), textOf(page).getByText('Under.'));
  await expect(textOf(page).locator('> *').nth(2)).toHaveText('Alpha');
  await expect(textOf(page).getByText('Second.')).toHaveCount(1);
  await caretIn(page, 'Under.');
  await page.keyboard.press('Control+Alt+i');
  await expect(page.getByRole('combobox', { name: 'Which block?' })).toBeFocused();
  await page.keyboard.type('section');
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog', { name: 'A section from another post' });
  await dialog.getByLabel('Words of the post').fill('raw water pump');
  await dialog.getByRole('button', { name: /^Winter-proofing a raw water pump/ }).click();
  await dialog.getByRole('button', { name: /^Finding the lowest drain/ }).click();
  await expect(
    textOf(page).getByRole('heading', { level: 3, name: 'Finding the lowest drain' }),
  ).toBeVisible();
  await saved(page);
});

test('a format asks for its fields and gives a starting text; checks hold back what the blog says', async ({
  browser,
}) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/site/formats');
  await page.getByRole('button', { name: 'New format' }).click();
  await expect(page.getByRole('heading', { name: 'New format' })).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill('Tide table');
  await page.getByRole('button', { name: 'Add a field' }).click();
  await page.getByLabel('Name of field 1').fill('High water');
  await page.getByLabel('High water is wanted').check();
  await page.getByLabel('Starter text, as Markdown').fill('## When it turns\n\nSay when.');
  await page.getByRole('button', { name: 'Save the format' }).click();
  await expect(page.getByText('“Tide table” is saved.')).toBeVisible();
  await openDraft(page, 'Tides at Gannet for all of us');
  await page.getByRole('tab', { name: 'Details' }).click();
  await choose(page.getByRole('combobox', { name: /^Format/ }), 'Tide table');
  await page.getByRole('button', { name: 'Start from the text of “Tide table”' }).click();
  await expect(textOf(page).getByRole('heading', { name: 'When it turns' })).toBeVisible();
  await page.getByRole('tab', { name: /^Checks/ }).click();
  await expect(check(page, /“High water” is empty/)).toBeVisible();
  await saved(page);

  const site = await comeIn(browser, 'Mara Winslow', '/desk/site');
  await choose(site.getByLabel('The check “format”'), 'holds it back');
  await expect(site.getByText('Saved.')).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: 'Clear', exact: true }).click();
  const held = page.getByRole('group', { name: 'Checks before it goes on' });
  await expect(held).toContainText('The checks hold it back.');
  await expect(held).toContainText('“High water” is empty');
  await expect(held.getByRole('button', { name: /all the same/ })).toHaveCount(0);
  await held.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('tab', { name: 'Details' }).click();
  await page.getByLabel(/^High water/).fill('06:40');
  await page.getByLabel(/^High water/).press('Tab');
  await page.getByRole('tab', { name: /^Checks/ }).click();
  await expect(check(page, /Fields of “Tide table” are filled/)).toBeVisible();
  await page.getByRole('button', { name: 'Clear', exact: true }).click();
  await allTheSame(page);
  await expect(page.getByText('Cleared.', { exact: true })).toBeVisible();
  await choose(site.getByLabel('The check “format”'), 'warns');
});

test('a long text is found and replaced in, and taken out as Markdown and Word', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow');
  const id = await openDraft(page, 'Found and replaced');
  await page.getByLabel('Import a file').setInputFiles({
    name: 'a.md',
    mimeType: 'text/markdown',
    buffer: Buffer.from('The paddle. A **paddle** and a Paddle.\n\nNo oar.'),
  });
  await textOf(page).click();
  await page.keyboard.press('Control+Alt+f');
  const bar = page.getByRole('search', { name: 'Find and replace' });
  await bar.getByLabel('Find', { exact: true }).fill('paddle');
  await expect(bar.getByText('3 found')).toBeVisible();
  await bar.getByLabel('Match case').check();
  await expect(bar.getByText('2 found')).toBeVisible();
  await bar.getByLabel('Replace with').fill('winch');
  await bar.getByRole('button', { name: 'Replace all 2' }).click();
  await expect(textOf(page).locator('p').first()).toHaveText('The winch. A winch and a Paddle.');
  await expect(textOf(page).locator('strong')).toHaveText('winch');
  await bar.getByRole('button', { name: 'Close' }).click();
  await saved(page);
  const markdown = await page.request.get(`/api/posts/${id}/out?as=markdown`);
  expect(await markdown.text()).toContain('The winch. A **winch** and a Paddle.');
  await page.getByRole('button', { name: 'Post ▾' }).click();
  await page.getByRole('menuitem', { name: 'Export as' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'Word (.docx)' }).click(),
  ]);
  expect(download.suggestedFilename()).toMatch(/\.docx$/);
});
