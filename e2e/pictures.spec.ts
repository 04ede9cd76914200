import { expect, type Page } from '@playwright/test';
import { comeIn, commission, PNG, saved, test, textOf } from './people.js';

const file = (name: string, buffer: Buffer = PNG, mimeType = 'image/png') => ({ name, mimeType, buffer });

/** A picture of its own, drawn in the page, so that no two tests share one. */
async function drawn(page: Page, name: string, width = 900, height = 600): Promise<ReturnType<typeof file>> {
  const data = await page.evaluate(
    ([w, h, label]) => {
      const canvas = document.createElement('canvas');
      [canvas.width, canvas.height] = [w as number, h as number];
      const pen = canvas.getContext('2d')!;
      const image = pen.createImageData(canvas.width, canvas.height);
      let x = 7;
      for (let i = 0; i < image.data.length; i++) {
        x = (Math.imul(x, 1664525) + 1013904223) >>> 0;
        image.data[i] = i % 4 === 3 ? 255 : x >>> 24;
      }
      pen.putImageData(image, 0, 0);
      pen.fillText(String(label), 20, 20);
      return canvas.toDataURL('image/jpeg', 0.95).split(',')[1]!;
    },
    [width, height, name] as const,
  );
  return file(name, Buffer.from(data, 'base64'), 'image/jpeg');
}

test('many files go in at once, are described, found again, cut, and made into others', async ({
  browser,
}) => {
  test.slow();
  const page = await comeIn(browser, 'Mara Winslow', '/desk/pictures');
  await page
    .getByLabel('Add pictures')
    .setInputFiles([
      await drawn(page, 'heron-weir.jpg'),
      await drawn(page, 'second.jpg', 400, 300),
      file('letter.jpg', Buffer.from('not a picture'), 'image/jpeg'),
    ]);
  const uploads = page.getByRole('region', { name: 'On the way in' });
  await expect(uploads.getByText('2 of 3 pictures kept, 1 refused.')).toBeVisible();
  await expect(uploads.getByText(/That is not a picture we can keep/)).toBeVisible();
  const grid = page.getByRole('list', { name: 'Pictures' });
  await grid.getByRole('button', { name: 'heron-weir.jpg' }).click();
  const sheet = page.getByRole('complementary', { name: 'The picture' });
  await sheet.getByLabel(/^Alternative text/).fill('A heron beside the weir');
  await sheet.getByLabel(/^Alternative text/).press('Tab');
  await sheet.getByLabel('Tags').fill('birds, weirs');
  await sheet.getByLabel('Tags').press('Tab');
  await sheet.getByLabel('Credit').fill('Odette Rigg');
  await sheet.getByLabel('Credit').press('Tab');
  const focus = sheet.getByRole('button', { name: /^Focus at 50% from the left/ });
  await focus.focus();
  const kept = page.waitForResponse(
    (r) => r.request().method() === 'PATCH' && r.request().postData()?.includes('focus') === true,
  );
  await focus.press('ArrowRight');
  await kept;
  await expect(sheet.getByRole('button', { name: /^Focus at 52% from the left/ })).toBeVisible();
  await page.getByRole('searchbox', { name: 'Words' }).fill('weir');
  await expect(grid.getByRole('button')).toHaveCount(1);
  await page.reload();
  await expect(sheet.getByLabel('Credit')).toHaveValue('Odette Rigg');
  await expect(sheet.getByRole('button', { name: /^Focus at 52% from the left/ })).toBeVisible();

  await sheet.getByRole('button', { name: 'Crop …' }).click();
  const crop = page.getByRole('dialog', { name: 'Crop the picture' });
  await crop.getByRole('radio', { name: 'square' }).click();
  await crop.getByLabel('Width').fill('300');
  await crop.getByLabel('Width').press('Tab');
  await crop.getByRole('button', { name: 'Keep 300 by 300' }).click();
  await expect(sheet.getByText(/^\s*300 by 300/)).toBeVisible();

  await sheet.getByRole('button', { name: 'Put words on it …' }).click();
  const card = page.getByRole('dialog', { name: 'Words on the picture' });
  await card.getByLabel('Words', { exact: true }).fill('Six turns that save your pump');
  await expect(card.getByText(/^\s*Contrast \d+\.\d to 1/)).toBeVisible();
  await card.getByRole('button', { name: 'Keep the card' }).click();
  await expect(sheet.getByText(/^\s*1200 by 630/)).toBeVisible();
  await expect(sheet.getByLabel(/^Alternative text/)).toHaveValue(
    /With the words: Six turns that save your pump$/,
  );

  await sheet.getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByText('It lies in the bin.')).toBeVisible();
  await page.getByRole('radio', { name: 'Bin', exact: true }).click();
  await expect(page).toHaveURL(/use=binned/);
});

test('pictures are dropped and pasted into the library', async ({ browser }) => {
  const page = await comeIn(browser, 'Mara Winslow', '/desk/pictures');
  const grid = page.getByRole('list', { name: 'Pictures' });
  await expect(grid).toBeVisible();
  for (const [how, name] of [
    ['drop', 'dropped-sluice.jpg'],
    ['paste', 'pasted-sluice.jpg'],
  ] as const) {
    const { buffer } = await drawn(page, name, 420, 300);
    await grid.evaluate(
      (el, [kind, label, data]) => {
        const carried = new DataTransfer();
        carried.items.add(
          new File([Uint8Array.from(atob(data!), (c) => c.charCodeAt(0))], label!, { type: 'image/jpeg' }),
        );
        el.dispatchEvent(
          kind === 'drop'
            ? new DragEvent('drop', { dataTransfer: carried, bubbles: true, cancelable: true })
            : new ClipboardEvent('paste', { clipboardData: carried, bubbles: true, cancelable: true }),
        );
      },
      [how, name, buffer.toString('base64')],
    );
    await expect(grid.getByRole('button', { name })).toBeVisible();
  }
});

test('a heavy lead picture is lightened, and a picture is replaced everywhere', async ({ browser }, info) => {
  const title = info.retry === 0 ? 'Heavy at the head' : `Heavy at the head, try ${info.retry + 1}`;
  test.slow();
  const page = await comeIn(browser, 'Mara Winslow');
  const id = await commission(page, title, 'Mara Winslow');
  const heavy = await page.request.post('/api/media', {
    multipart: { file: await drawn(page, 'heavy.jpg', 1600, 1000) },
  });
  const { id: media } = (await heavy.json()) as { id: number };
  expect(
    (
      await page.request.patch(`/api/posts/${id}`, {
        headers: {
          'If-Match': String(
            ((await (await page.request.get(`/api/posts/${id}`)).json()) as { version: number }).version,
          ),
        },
        data: { leadPicture: { media, alt: 'Noise' } },
      })
    ).ok(),
  ).toBe(true);
  await page.goto(`/desk/posts/${id}`);
  await page.getByRole('button', { name: /^Lighten: Lead picture weighs/ }).click();
  const dialog = page.getByRole('dialog', { name: 'Lighten the picture' });
  await expect(
    dialog.getByText(/^\s*After \d+ kB, 1600 by 1000, quality \d+|^\s*After \d+ kB, \d+ by \d+, quality 70/),
  ).toBeVisible({ timeout: 60_000 });
  await dialog.getByRole('button', { name: 'Use the lighter one' }).click();
  await expect(page.getByText('The lighter picture leads now.')).toBeVisible();
  await expect(page.getByRole('tabpanel').getByText(/^\s*Lead picture weighs [34]\d\d kB$/)).toBeVisible();

  await textOf(page).click();
  await page.keyboard.type('Words.');
  await saved(page);
  await page.goto(`/desk/pictures?picture=${media}`);
  const sheet = page.getByRole('complementary', { name: 'The picture' });
  await expect(sheet.getByText('No post uses it.')).toBeVisible();
  const lead = (
    (await (await page.request.get(`/api/posts/${id}`)).json()) as { leadPicture: { media: number } }
  ).leadPicture.media;
  await page.goto(`/desk/pictures?picture=${lead}`);
  await expect(sheet.getByRole('link', { name: title })).toBeVisible();
  await expect(sheet.getByRole('button', { name: 'Delete' })).toBeDisabled();
  await sheet.getByRole('button', { name: 'Replace everywhere …' }).click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^A sunny basin/ })
    .click();
  await expect(page.getByText('Put in its place in one post.')).toBeVisible();
  await expect(sheet.getByText('No post uses it.')).toBeVisible();
});
