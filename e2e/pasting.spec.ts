import { readFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { comeIn, openDraft, paste, PNG, saved, test, textOf } from './people.js';

const clipboard = (name: string) => readFileSync(new URL(`clipboard/${name}.html`, import.meta.url), 'utf8');

test.describe('pasting', () => {
  for (const from of ['word-processor', 'free-office', 'browser-documents', 'web-page', 'notes-app']) {
    test(`from ${from} keeps structure, links, tables, quotes and dashes, and no styling`, async ({
      browser,
    }) => {
      const page = await comeIn(browser, 'Mara Winslow');
      await openDraft(page, `Pasted from ${from}`);
      await paste(page, clipboard(from));
      const text = textOf(page);
      await expect(text.getByRole('heading', { level: 2, name: 'Before you start' })).toBeVisible();
      await expect(text.locator('p').first()).toHaveText(
        'The gland is “weeping” – that’s right. See the chart.',
      );
      await expect(text.locator('strong').first()).toHaveText('“weeping”');
      await expect(text.locator('em')).toHaveText('right');
      await expect(text.getByRole('link', { name: 'the chart' })).toHaveAttribute(
        'href',
        'https://waterways.example/chart',
      );
      await expect(text.getByRole('list').getByRole('listitem')).toHaveText([
        'Stop the engine',
        'Count the drops',
      ]);
      await expect(text.locator('ol')).toHaveCount(1);
      await expect(text.getByRole('row')).toHaveText([/Size\s*Turns/, /1\s+inch\s*7/]);
      await expect(page.getByText(/^Kept 1 heading, .*1 list, 1 table, 1 link/)).toBeVisible();
      expect(await text.innerHTML()).not.toMatch(
        /Mso|Calibri|Liberation|font-|docs-internal|onclick|Buy now/,
      );
      await saved(page);
      await page.reload();
      await expect(text.getByRole('row')).toHaveText([/Size\s*Turns/, /1\s+inch\s*7/]);
    });
  }

  test('a spreadsheet becomes a table; plain words can be kept instead, and all of it undone', async ({
    browser,
  }) => {
    const page = await comeIn(browser, 'Mara Winslow');
    await openDraft(page, 'Pasted cells');
    await paste(page, clipboard('spreadsheet'), 'Size\tTurns\n1 inch\t7');
    await expect(textOf(page).getByRole('row')).toHaveCount(2);
    await page.getByRole('button', { name: 'Keep plain instead' }).click();
    await expect(textOf(page).getByRole('row')).toHaveCount(0);
    await expect(textOf(page)).toContainText('1 inch 7');
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await expect(textOf(page)).toHaveText('');
  });

  test('a picture beside the clipboard’s text goes into the library', async ({ browser }) => {
    const page = await comeIn(browser, 'Mara Winslow');
    await openDraft(page, 'Pasted picture');
    await textOf(page).click();
    await textOf(page).evaluate((el, png) => {
      const data = new DataTransfer();
      data.setData(
        'text/html',
        '<p>Before</p><p><img src="file:///C:/Users/x/clip_image001.png" alt="a gate"></p><p>After</p>',
      );
      data.items.add(
        new File([Uint8Array.from(atob(png), (c) => c.charCodeAt(0))], 'image.png', { type: 'image/png' }),
      );
      el.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
    }, PNG.toString('base64'));
    await expect(textOf(page).getByAltText('a gate')).toHaveAttribute('src', /^\/media\/\d+$/);
    await saved(page);
  });

  test('two pictures and a document that are dropped together are all placed', async ({ browser }) => {
    const page = await comeIn(browser, 'Mara Winslow');
    await openDraft(page, 'Dropped together');
    const drop = () =>
      textOf(page).evaluate(async (el) => {
        const data = new DataTransfer();
        for (const [name, colour] of [
          ['a gate.png', 'teal'],
          ['a paddle.png', 'brown'],
        ] as const) {
          const canvas = new OffscreenCanvas(60, 40);
          const context = canvas.getContext('2d')!;
          context.fillStyle = colour;
          context.fillRect(0, 0, 60, 40);
          data.items.add(new File([await canvas.convertToBlob()], name, { type: 'image/png' }));
        }
        data.items.add(new File(['Grease the paddle first.\n'], 'notes.md', { type: 'text/markdown' }));
        const { left, top } = el.getBoundingClientRect();
        const at = { clientX: left + 20, clientY: top + 10 };
        el.dispatchEvent(
          new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true, ...at }),
        );
      });
    await drop();
    // The pictures are something that a document must not replace unasked.
    await page.getByRole('button', { name: 'Append at the end' }).click();
    await expect(textOf(page)).toContainText('Grease the paddle first.');
    await expect(textOf(page).locator('img')).toHaveCount(2);
    await saved(page);
    await page.reload();
    await expect(textOf(page).locator('img')).toHaveCount(2);
    await expect(textOf(page)).toContainText('Grease the paddle first.');
  });

  test('an import that takes its time can be cancelled, and leaves the text as it was', async ({
    browser,
  }) => {
    const page = await comeIn(browser, 'Mara Winslow');
    await openDraft(page, 'Cancelled import');
    let reading!: () => void;
    const begun = new Promise<void>((done) => (reading = done));
    // A file that is long in reading: its answer does not come.
    await page.route('**/api/bring-in?*', () => reading());
    await page.getByLabel('Import a file').setInputFiles({
      name: 'long.md',
      mimeType: 'text/markdown',
      buffer: Buffer.from('Too long to wait for.'),
    });
    await begun;
    await page.getByRole('button', { name: 'Cancel the import' }).click();
    await expect(page.getByText('The import of “long.md” was cancelled.')).toBeVisible();
    await expect(textOf(page)).toHaveText('');
    await textOf(page).click();
    await page.keyboard.type('Written instead.');
    await saved(page);
  });
});
