import { expect, type Page } from '@playwright/test';
import { allTheSame, comeIn, commission, newPage, paste, saved, test, textOf } from './people.js';

const HOSTILE = `<h2>Safe heading</h2><script>window.hit=1</script><img src=x onerror="window.hit=2"><p onclick="window.hit=3">Text <a href="javascript:window.hit=4">bait</a> <a href=" java&#10;script:window.hit=5">more</a></p>
<svg onload="window.hit=6"><script>window.hit=7</script><a xlink:href="javascript:window.hit=8"><text>x</text></a></svg><iframe srcdoc="<script>parent.hit=9</script>"></iframe><math><mtext><table><mglyph><style><img src=x onerror="window.hit=10"></style></mglyph></table></mtext></math>
<object data="data:text/html,<script>parent.hit=11</script>"></object><form action="javascript:window.hit=12"><button>go</button></form><div style="background:url(javascript:window.hit=13)">styled</div><noscript><p title="</noscript><img src=x onerror=window.hit=14>"></noscript>`;

test('hostile HTML never runs, pasted or imported, on the desk or on the blog', async ({ browser }) => {
  const chief = await comeIn(browser, 'Mara Winslow');
  const id = await commission(chief, 'Hostile <img src=x onerror=window.hit=20> title', 'Mara Winslow');
  await chief.goto(`/desk/posts/${id}`);
  await paste(chief, HOSTILE);
  await expect(textOf(chief).getByRole('heading', { name: 'Safe heading' })).toBeVisible();
  await expect(chief.getByText(/Dropped .*unsafe links/)).toBeVisible();
  await saved(chief);
  await chief.getByLabel('Import a file').setInputFiles({
    name: 'bad.html',
    mimeType: 'text/html',
    buffer: Buffer.from(`<html><body>${HOSTILE}<p>From a file`),
  });
  await chief.getByRole('button', { name: 'Replace the text' }).click();
  await expect(textOf(chief).getByText('From a file')).toBeVisible();
  await saved(chief);
  await chief.getByRole('textbox', { name: 'Excerpt' }).fill('"><script>window.hit=21</script>');
  await saved(chief);
  await textOf(chief).getByText('bait').click();
  expect(await chief.evaluate(() => (window as unknown as { hit?: number }).hit)).toBeUndefined();

  const moved = await chief.request.post(`/api/posts/${id}/moves`, {
    data: { to: 'scheduled', runAt: '2020-02-03T08:00' },
  });
  expect(moved.ok()).toBe(true);
  const { slug } = ((await moved.json()) as { post: { slug: string } }).post;
  const reader = await newPage(browser);
  await expect(async () => {
    expect((await reader.goto(`/${slug}`))?.status()).toBe(200);
  }).toPass();
  await expect(reader.getByRole('heading', { name: /Hostile <img/ })).toBeVisible();
  await reader.getByText('bait').click();
  expect(await reader.evaluate(() => (window as unknown as { hit?: number }).hit)).toBeUndefined();
  expect(await reader.content()).not.toMatch(/onerror="|javascript:|<iframe|<svg/i);
});

test('pasting from a word processor keeps structure and says so', async ({ browser }) => {
  const chief = await comeIn(browser, 'Mara Winslow');
  const id = await commission(chief, 'Pasted', 'Mara Winslow');
  await chief.goto(`/desk/posts/${id}`);
  await paste(
    chief,
    `<html xmlns:o="urn:schemas-microsoft-com:office:office"><head><style>p.MsoNormal{font-family:Calibri}</style></head><body><!--StartFragment--><h2 style='color:#2F5496'>The lower gates</h2>
<p class=MsoNormal style='margin:0'><span style='font-size:14pt;font-family:Calibri'>They are <b>heavy</b> and <i>old</i>.<o:p></o:p></span></p>
<p class=MsoListParagraphCxSpFirst style='mso-list:l0 level1 lfo1'><span style='mso-list:Ignore'>·<span>   </span></span>Look</p><p class=MsoListParagraphCxSpLast style='mso-list:l0 level1 lfo1'><span style='mso-list:Ignore'>·<span>   </span></span>Listen</p><!--EndFragment--></body></html>`,
  );
  await expect(textOf(chief).getByRole('listitem')).toHaveText(['Look', 'Listen']);
  await expect(textOf(chief).getByRole('heading', { level: 2, name: 'The lower gates' })).toBeVisible();
  await expect(
    chief.getByText(
      /Kept 1 heading, 1 paragraph, 1 list, 1 bold passage and 1 italic passage\. Dropped \d+ pieces of styling\./,
    ),
  ).toBeVisible();
  expect(await textOf(chief).innerHTML()).not.toMatch(/Calibri|Mso|style="(?!text-align)/);
});

test('a lost connection loses nothing', async ({ browser }) => {
  const chief = await comeIn(browser, 'Mara Winslow');
  const id = await commission(chief, 'Written off line', 'Tobias Orme');
  const writer = await comeIn(browser, 'Tobias Orme', `/desk/posts/${id}`);
  await textOf(writer).click();
  await writer.keyboard.type('Before the tunnel.');
  await saved(writer);
  await writer.context().setOffline(true);
  await writer.keyboard.type(' In the tunnel.');
  await expect(writer.getByText('Offline, kept on this device')).toBeVisible();
  await writer.context().setOffline(false);
  await saved(writer);
  // And when the page is closed before it could be stored: it is taken up again.
  await writer.context().setOffline(true);
  await writer.keyboard.type(' After the tunnel.');
  await expect(writer.getByText('Offline, kept on this device')).toBeVisible();
  writer.on('dialog', (dialog) => void dialog.accept());
  await writer.goto('about:blank');
  await writer.context().setOffline(false);
  await writer.goto(`/desk/posts/${id}`);
  await expect(textOf(writer)).toHaveText('Before the tunnel. In the tunnel. After the tunnel.');
  await saved(writer);
  await chief.goto(`/desk/posts/${id}`);
  await expect(textOf(chief)).toHaveText('Before the tunnel. In the tunnel. After the tunnel.');
});

test('what is typed right before a page is closed arrives', async ({ browser }) => {
  const chief = await comeIn(browser, 'Mara Winslow');
  const id = await commission(chief, 'Closed in a hurry', 'Tobias Orme');
  const writer = await comeIn(browser, 'Tobias Orme', `/desk/posts/${id}`);
  await textOf(writer).click();
  await writer.keyboard.type('Before the tunnel.');
  await saved(writer);
  // Closed at once, without the page's question whether to stay: only what it leaves behind can arrive.
  await writer.keyboard.type(' abc');
  await writer.close({ runBeforeUnload: false });
  await expect(async () => {
    await chief.goto(`/desk/posts/${id}`);
    await expect(textOf(chief)).toHaveText('Before the tunnel. abc', { timeout: 2000 });
  }).toPass();
});

test('two people in one line around the text: both are shown, and one is chosen', async ({ browser }) => {
  const chief = await comeIn(browser, 'Mara Winslow');
  const id = await commission(chief, 'One line, two hands', 'Tobias Orme');
  const writer = await comeIn(browser, 'Tobias Orme', `/desk/posts/${id}`);
  await chief.goto(`/desk/posts/${id}`);
  const title = (page: Page) => page.getByRole('textbox', { name: 'Title' });
  await expect(title(chief)).toHaveValue('One line, two hands');
  await writer.context().setOffline(true);
  await title(writer).fill('The writer’s line');
  await expect(writer.getByText('Offline, kept on this device')).toBeVisible();
  await title(chief).fill('The chief’s line');
  await saved(chief);
  await writer.context().setOffline(false);
  const asked = writer.getByRole('alertdialog', { name: 'The title was changed in the meantime' });
  await expect(asked).toContainText('Mara Winslow changed the title in the meantime to “The chief’s line”.');
  await expect(title(writer)).toHaveValue('The writer’s line');
  await asked.getByRole('button', { name: 'Keep yours' }).click();
  await saved(writer);
  await expect(title(chief)).toHaveValue('The writer’s line');
});

test('a person who loses a post while typing is notified, and keeps the words that were not saved', async ({
  browser,
}) => {
  const chief = await comeIn(browser, 'Mara Winslow');
  const id = await commission(chief, 'Taken off', 'Tobias Orme');
  const writer = await comeIn(browser, 'Tobias Orme', `/desk/posts/${id}`);
  await textOf(writer).click();
  await writer.keyboard.type('So far.');
  await saved(writer);
  await writer.context().setOffline(true);
  await writer.keyboard.type(' And further.');
  await expect(writer.getByText('Offline, kept on this device')).toBeVisible();
  const jun = (
    (await (await chief.request.get('/api/people')).json()) as { id: number; name: string }[]
  ).find((p) => p.name === 'Jun Marlowe')!.id;
  const { version } = (await (await chief.request.get(`/api/posts/${id}`)).json()) as { version: number };
  const change = await chief.request.patch(`/api/posts/${id}`, {
    headers: { 'If-Match': `"${version}"` },
    data: { bylineId: jun },
  });
  expect(change.status()).toBe(200);
  await writer.context().setOffline(false);
  await expect(writer.getByRole('alert')).toContainText('is not yours to do');
  await expect(writer.getByRole('alert')).toContainText('So far. And further.');
  await expect(writer.getByRole('textbox', { name: 'Text of the post' })).toHaveText('So far.');
});

test('a time that the clocks skip or repeat is asked about', async ({ browser }) => {
  const chief = await comeIn(browser, 'Mara Winslow', '/desk/archive?line=clock+at+Gannet');
  const id = await commission(chief, 'Clocks and canals', 'Mara Winslow');
  await chief.goto(`/desk/posts/${id}`);
  await textOf(chief).click();
  await chief.keyboard.type('Tick.');
  await saved(chief);
  await chief.getByRole('button', { name: 'Schedule …' }).click();
  await chief.getByLabel('Date', { exact: true }).fill('2031-03-30');
  await chief.getByLabel('Time, Europe/London').fill('01:30');
  await expect(chief.getByText(/01:30 does not exist on this day/)).toBeVisible();
  await chief.getByRole('button', { name: /^Schedule for/ }).click();
  await expect(chief.getByRole('group', { name: 'Choose a time' }).getByRole('button')).toHaveText([
    '00:59',
    '02:00',
  ]);
  await chief.getByLabel('Date', { exact: true }).fill('2031-10-26');
  await chief.getByRole('button', { name: /^Schedule for/ }).click();
  await chief.getByRole('button', { name: 'the later 01:30 (UTC+00:00)' }).click();
  await allTheSame(chief);
  await expect(chief.getByText('Goes out Sunday 26 October 2031 at 01:30.')).toBeVisible();
});

test('wrong files and wrong words get a sentence, and nothing is lost', async ({ browser }) => {
  const chief = await comeIn(browser, 'Mara Winslow');
  const id = await commission(chief, 'Patient', 'Mara Winslow');
  await chief.goto(`/desk/posts/${id}`);
  await textOf(chief).click();
  await chief.keyboard.type('Still here.');
  await saved(chief);
  await chief.getByLabel('Import a file').setInputFiles({
    name: 'broken.docx',
    mimeType: 'application/octet-stream',
    buffer: Buffer.from('not a document'),
  });
  await chief.getByRole('button', { name: 'Insert at the cursor' }).click();
  await expect(chief.getByText(/“broken\.docx” is not a Word document we can read/)).toBeVisible();
  await expect(textOf(chief)).toHaveText('Still here.');
  await chief.getByLabel('Title', { exact: true }).fill('');
  await expect(
    chief.getByText('A post needs a title. The last one stands until you type another.'),
  ).toBeVisible();
  await chief.getByLabel('Title', { exact: true }).fill('Ünïcode 🚤 “title”');
  await saved(chief);
  await chief.reload();
  await expect(chief.getByLabel('Title', { exact: true })).toHaveValue('Ünïcode 🚤 “title”');
});
