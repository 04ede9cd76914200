import { expect } from '@playwright/test';
import { allTheSame, comeIn, drag, londonIn, newPage, PNG, saved, test, textOf, choose } from './people.js';

const TITLE = 'Seven turns that quiet a noisy stern gland';
const DRAFT = `---
title: ${TITLE}
excerpt: A quarter turn at a time, and a cup under the drop.
tags: [stern gear]
---

A gland that **weeps** is a gland that works. Count the drops first.

## Count, then turn

1. Tie up and stop the engine.
2. Count for one minute.

> Never two turns at once.

See [the chart](https://halfwaylock.example/chart) for sizes.
`;

test('one post from pitch to published, by the people whose work it is', async ({ browser }) => {
  test.setTimeout(150_000);
  const chief = await comeIn(browser, 'Mara Winslow');

  await test.step('the managing editor pitches, places and briefs', async () => {
    await expect(chief.getByRole('heading', { name: 'Waiting for review' })).toBeVisible();
    await expect(chief.getByText(/^(Covered to|Not covered yet)/)).toBeVisible();
    await chief.getByRole('link', { name: 'Planner', exact: true }).click();
    await choose(chief.getByLabel('Category of the pitch you type'), 'into: Engine room');
    await chief.getByLabel('Type a pitch, Enter to save it').fill('A noisy stern gland');
    await chief.getByLabel('Type a pitch, Enter to save it').press('Enter');
    const pitch = chief.getByRole('button', { name: /^A noisy stern gland, pitch/ });
    await expect(pitch).toBeVisible();
    // Narrowed to the one, the tray has it beside the slot: near the edge of the window a drag would scroll
    // it.
    await chief.getByRole('searchbox', { name: 'Search the tray' }).fill('noisy');
    await expect(chief.getByRole('button', { name: /, pitch/ })).toHaveCount(1);
    // Held by its name: which open slot is the first can change while the weeks below are still coming in.
    const day = (await chief
      .getByRole('region')
      .filter({ hasText: /Engine room.*fits?/ })
      .first()
      .getAttribute('aria-label'))!;
    await drag(chief, pitch, chief.getByRole('region', { name: day }));
    const brief = chief.getByRole('dialog', { name: 'A noisy stern gland' });
    await choose(brief.getByLabel('Who writes it'), 'Tobias Orme, contributor');
    await brief
      .getByLabel('Angle: what is asked for')
      .fill('For a first winter. What to turn, how far, and when to stop.');
    await brief.getByLabel('Length in words').fill('400');
    await brief.getByRole('button', { name: 'Give the brief' }).click();
    await expect(chief.getByText(/Tobias Orme has the brief/)).toBeVisible();
    await chief.reload();
    await expect(
      chief
        .getByRole('region', { name: day })
        .getByRole('button', { name: /A noisy stern gland, commissioned, Tobias Orme/ }),
    ).toBeVisible();
  });

  const writer = await comeIn(browser, 'Tobias Orme');
  await test.step('the contributor finds it, brings a draft in and writes on', async () => {
    await writer
      .getByRole('region', { name: 'To write' })
      .getByRole('link', { name: /A noisy stern gland/ })
      .click();
    await expect(writer.getByText('For a first winter.')).toBeVisible();
    await writer
      .getByLabel('Import a file')
      .setInputFiles({ name: 'draft.md', mimeType: 'text/markdown', buffer: Buffer.from(DRAFT) });
    await expect(
      writer.getByText(
        /Kept 1 heading, 2 paragraphs, 1 list, 1 quote, 1 link and 1 bold passage\. Dropped nothing\. Front matter left out: tags\./,
      ),
    ).toBeVisible();
    await expect(writer.getByLabel('Title', { exact: true })).toHaveValue(TITLE);
    await textOf(writer).click();
    await writer.keyboard.press('Control+End');
    await writer.keyboard.press('Enter');
    await writer.keyboard.press('Control+Alt+3');
    await writer.keyboard.type('When to stop');
    await writer.keyboard.press('Enter');
    await writer.keyboard.type('Stop when it is ');
    await writer.keyboard.press('Control+i');
    await writer.keyboard.type('cool to the hand');
    await writer.keyboard.press('Control+i');
    await writer.keyboard.type('. That is all.');
    await writer.getByRole('button', { name: 'Picture', exact: true }).click();
    const dialog = writer.getByRole('dialog', { name: 'Picture' });
    await dialog.getByLabel(/^File/).setInputFiles({ name: 'gland.png', mimeType: 'image/png', buffer: PNG });
    await expect(dialog.getByAltText('The picture you chose')).toBeVisible();
    await dialog.getByLabel(/^Alternative text/).fill('A brass gland with two nuts');
    await dialog.getByRole('button', { name: 'Insert' }).click();
    await expect(textOf(writer).getByAltText('A brass gland with two nuts')).toBeVisible();
    await saved(writer);
    await writer.reload();
    await expect(textOf(writer).getByRole('heading', { name: 'When to stop', level: 3 })).toBeVisible();
    await expect(textOf(writer).getByRole('link', { name: 'the chart' })).toHaveAttribute(
      'href',
      'https://halfwaylock.example/chart',
    );
    await writer.getByRole('button', { name: 'Hand in', exact: true }).click();
    await expect(writer.getByText('Handed in.')).toBeVisible();
    await expect(writer.getByText(/In review: the text is the editor’s/)).toBeVisible();
  });

  const editor = await comeIn(browser, 'Halden Byre');
  await test.step('the editor reads, leaves a note on a passage and asks for changes', async () => {
    await editor
      .getByRole('region', { name: 'Waiting for review' })
      .getByRole('link', { name: new RegExp(TITLE) })
      .click();
    await textOf(editor)
      .getByText('Count the drops first')
      .dblclick({ position: { x: 330, y: 8 } });
    await editor.getByRole('button', { name: 'Add note', exact: true }).click();
    await editor.getByLabel('Your note on these words').fill('How many is right?');
    await editor.getByRole('button', { name: 'Save the note' }).click();
    await expect(editor.getByText('How many is right?')).toBeVisible();
    await editor.getByRole('button', { name: 'Ask for changes' }).click();
    await editor.getByLabel('What should change?').fill('One number is missing.');
    await editor.getByRole('button', { name: 'Ask Tobias Orme for changes' }).click();
    await expect(editor.getByText('Changes asked for.')).toBeVisible();
  });

  await test.step('the contributor sees it without reloading, answers and hands in again', async () => {
    await expect(writer.getByText('How many is right?')).toBeVisible();
    await writer.getByRole('link', { name: 'Today', exact: true }).click();
    await writer
      .getByRole('region', { name: 'Changes asked for' })
      .getByRole('link', { name: new RegExp(TITLE) })
      .click();
    await writer.getByLabel('Answer this note').last().fill('One a minute, turning.');
    await writer.getByRole('button', { name: 'Answer' }).last().click();
    await expect(writer.getByText('One a minute, turning.')).toBeVisible();
    await textOf(writer).click();
    await writer.keyboard.press('Control+Home');
    await writer.keyboard.type('One drop a minute is right. ');
    await saved(writer);
    await writer.getByRole('button', { name: 'Hand in', exact: true }).click();
    await expect(writer.getByText('Handed in.')).toBeVisible();
  });

  let address = '';
  await test.step('the editor clears it, previews it and schedules it', async () => {
    await expect(textOf(editor).getByText('One drop a minute is right.')).toBeVisible();
    await editor.getByRole('button', { name: 'Clear', exact: true }).click();
    await expect(editor.getByText('2 notes not resolved.')).toBeVisible();
    await allTheSame(editor);
    await expect(editor.getByText('Cleared.', { exact: true })).toBeVisible();
    await editor.getByRole('link', { name: 'Preview' }).click();
    const page = editor.frameLocator('iframe');
    await expect(page.getByRole('heading', { level: 1, name: TITLE })).toBeVisible();
    await editor.getByRole('link', { name: 'Back to the post' }).click();
    await editor.getByRole('button', { name: 'Schedule …' }).click();
    const soon = londonIn(9);
    await editor.getByLabel('Date', { exact: true }).fill(soon.date);
    await editor.getByLabel('Time, Europe/London').fill(soon.time);
    await editor
      .getByRole('button', { name: new RegExp(`^Schedule for .*, ${soon.time.replace(/:00$/, '')}$`) })
      .click();
    await allTheSame(editor);
    await expect(
      editor.getByText(new RegExp(`^Goes out \\w+ \\d+ \\w+ at ${soon.time.replace(/:00$/, '')}`)),
    ).toBeVisible();
    await editor.getByRole('tab', { name: 'Details' }).click();
    address = await editor.getByLabel(/^Web address/).inputValue();
    expect(address).toBe('seven-turns-quiet-noisy-stern');
  });

  await test.step('it goes out by itself, and readers, feeds, sitemap and log have it', async () => {
    await expect(editor.getByRole('link', { name: 'See it on the blog' })).toBeVisible({ timeout: 60_000 });
    const reader = await newPage(browser);
    await reader.goto('/');
    await reader.getByRole('heading', { level: 2, name: TITLE }).getByRole('link').click();
    await expect(reader).toHaveURL(new RegExp(`/${address}$`));
    await expect(reader.getByRole('heading', { level: 1, name: TITLE })).toBeVisible();
    await expect(reader.getByText('One drop a minute is right.')).toBeVisible();
    await expect(reader.getByAltText('A brass gland with two nuts')).toBeVisible();
    for (const path of ['/feed.atom', '/feed.rss', '/feed.json'])
      expect(await (await reader.request.get(path)).text()).toContain(TITLE);
    expect(await (await reader.request.get('/sitemap.xml')).text()).toContain(`/${address}</loc>`);
    await chief.goto('/desk/archive/release-log');
    await expect(chief.getByRole('row', { name: new RegExp(TITLE) }).first()).toContainText(
      /\d (ms|s).*(fine|\d warned)/,
    );
  });
});
