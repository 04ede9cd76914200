import {
  expect,
  test as base,
  type Browser,
  type BrowserContext,
  type Locator,
  type Page,
} from '@playwright/test';
import { site } from './sites.js';

const opened: BrowserContext[] = [];

/** A test whose people leave when it ends, so that no stream of theirs stays open. */
export const test = base.extend<{ leaving: void }>({
  baseURL: async ({}, use) => use(site().url),
  // A fixture and not a hook: a hook in a shared module holds for the first file that imports it, and for no
  // other.

  leaving: [
    async ({}, use) => {
      await use();
      await Promise.all(opened.splice(0).map((context) => context.close()));
    },
    { auto: true },
  ],
});

export async function newPage(browser: Browser): Promise<Page> {
  const context = await browser.newContext();
  opened.push(context);
  return context.newPage();
}

/** Signs a demo person in, by name, in a browser of their own. */
export async function comeIn(browser: Browser, name: string, path = '/desk/'): Promise<Page> {
  const page = await newPage(browser);
  await page.goto(path);
  await page.getByRole('button', { name: new RegExp(name) }).click();
  await expect(page.getByRole('navigation', { name: 'Sections' })).toBeVisible();
  return page;
}

/** Chooses one of a list, by what it says. A list whose words are still on their way does not open yet. */
export async function choose(list: Locator, option: string | RegExp): Promise<void> {
  const wanted = list.page().getByRole('option', { name: option, exact: true });
  await expect(async () => {
    if ((await list.getAttribute('aria-expanded')) !== 'true') await list.click();
    await expect(wanted).toBeVisible({ timeout: 3_000 });
  }).toPass({ timeout: 60_000 });
  await wanted.click();
}

/** Drags as a hand does: press, move a little, move there, let go. */
export async function drag(page: Page, what: Locator, where: Locator): Promise<void> {
  await what.scrollIntoViewIfNeeded();
  await where.scrollIntoViewIfNeeded();
  const from = (await what.boundingBox())!;
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
  await page.mouse.down();
  await page.mouse.move(from.x + from.width / 2 + 12, from.y + from.height / 2 + 8, { steps: 4 });
  const to = (await where.boundingBox())!;
  await page.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 12 });
  await page.waitForTimeout(150);
  await page.mouse.up();
}

/** Date and clock time of the blog (Europe/London), so many seconds from now. */
export function londonIn(seconds: number): { date: string; time: string } {
  const parts = new Intl.DateTimeFormat('sv-SE', {
    timeZone: 'Europe/London',
    dateStyle: 'short',
    timeStyle: 'medium',
  }).format(new Date(Date.now() + seconds * 1000));
  const [date = '', time = ''] = parts.split(' ');
  return { date, time };
}

/** Takes back what was done, once the message that offers it is the one that says so. */
export async function undo(page: Page, sentence: string): Promise<void> {
  await page
    .locator('mat-snack-bar-container')
    .filter({ hasText: sentence })
    .getByRole('button', { name: 'Undo' })
    .click();
}

export const textOf = (page: Page) => page.getByRole('textbox', { name: 'Text of the post' });
/** Puts the caret into a line of the text, and waits until it is there: the browser tells of it a moment later. */
/** The paragraphs of the text, without the names at other people's carets. */
export const linesOf = (page: Page): Promise<string[]> =>
  textOf(page)
    .locator('p')
    .evaluateAll((lines: Element[]) =>
      lines.map((line) => {
        const copy = line.cloneNode(true) as Element;
        copy.querySelectorAll('.caret').forEach((caret) => caret.remove());
        return copy.textContent!.trim();
      }),
    );

export async function caretIn(page: Page, line: string): Promise<void> {
  await textOf(page).getByText(line, { exact: true }).click();
  await expect.poll(() => page.evaluate(() => getSelection()?.anchorNode?.textContent)).toBe(line);
}
export const saved = (page: Page) => expect(page.getByText(/^Saved · version \d+$/)).toBeVisible();

/** Chooses a tab with the keyboard, from another one: arrows move the focus at once, what is chosen is drawn later. */
export async function chooseTab(page: Page, tab: Locator, arrow: 'ArrowLeft' | 'ArrowRight'): Promise<void> {
  for (let i = 0; i < 6 && !(await tab.evaluate((el) => el === document.activeElement)); i++)
    await page.keyboard.press(arrow);
  await expect(tab).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(tab).toHaveAttribute('aria-selected', 'true');
}

/** A small PNG, drawn by nobody. */
export const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8BQDwAEhQGAhKmMIQAAAABJRU5ErkJggg==',
  'base64',
);

/**
 * Makes a post that a writer of the demo may write, through the stable interface for programs. Returns its
 * id.
 */
export async function commission(page: Page, title: string, byline: string): Promise<number> {
  const people = (await (await page.request.get('/api/people')).json()) as { id: number; name: string }[];
  const session = (await (await page.request.get('/api/session')).json()) as {
    blog: { categories: { id: number; name: string }[] };
  };
  const post = await page.request.post('/api/posts', {
    data: {
      title,
      categoryId: session.blog.categories.find((c) => c.name === 'Engine room')!.id,
      bylineId: people.find((p) => p.name === byline)!.id,
    },
  });
  const { id } = (await post.json()) as { id: number };
  expect((await page.request.post(`/api/posts/${id}/moves`, { data: { to: 'commissioned' } })).ok()).toBe(
    true,
  );
  return id;
}

/** Goes on although the checks warn, as one does who has read what they say. */
export async function allTheSame(page: Page): Promise<void> {
  await page
    .getByRole('group', { name: 'Checks before it goes on' })
    .getByRole('button', { name: /all the same$/ })
    .click();
}

/** Puts HTML on the clipboard event as a browser would on paste. */
export async function paste(page: Page, html: string, plain = 'plain'): Promise<void> {
  await textOf(page).click();
  await textOf(page).evaluate(
    (el, [rich, words]) => {
      const data = new DataTransfer();
      data.setData('text/html', rich!);
      data.setData('text/plain', words!);
      el.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
    },
    [html, plain],
  );
}

/** Tabs until the wanted thing has focus; nobody should need the mouse to get anywhere. */
export async function tabTo(page: Page, what: Locator, max = 200): Promise<void> {
  await expect(what.first()).toBeVisible();
  for (let i = 0; i < max; i++) {
    if (await what.first().evaluate((el) => el === document.activeElement)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error('Tab never reached it.');
}

/** A post that Mara Winslow may write, open on the desk. */
export async function openDraft(page: Page, title: string): Promise<number> {
  const id = await commission(page, title, 'Mara Winslow');
  await page.goto(`/desk/posts/${id}`);
  await expect(textOf(page)).toBeVisible();
  return id;
}
