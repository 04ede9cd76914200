import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { MatMenuHarness } from '@angular/material/menu/testing';
import { MatRadioGroupHarness } from '@angular/material/radio/testing';
import type { Type } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { SiteView } from '@keyroster/contract';
import type { Subject } from 'rxjs';
import { FIRST_LOOK, USUAL_SITE, newPanel, type MenuEntry } from '@keyroster/core';
import { answer, refuse, session, show, savedBody, type Shown } from '../../testing/newsroom';
import { press, type } from '../../testing/hands';
import { Live } from '../api/live';
import { Unsaved } from '../ui/unsaved';
import { AroundPage } from './around.page';
import { BlogsPage } from './blogs.page';
import { LooksPage } from './looks.page';
import { MenuPage } from './menu.page';
import { PagesPage } from './pages.page';
import { SpotlightPage } from './spotlight.page';

const menu: MenuEntry[] = [
  { kind: 'category', id: 1, label: '' },
  { kind: 'post', id: 7, label: '' },
  { kind: 'page', page: 'front', label: 'All of it' },
];
const site = (parts: Partial<SiteView> = {}): SiteView => ({
  id: 1,
  version: 4,
  home: 'https://halfway.example',
  settings: { ...USUAL_SITE, start: { intro: 'Sit down.', posts: [7] } },
  menu,
  menuIsUsual: false,
  panels: [{ ...newPanel('about'), text: 'Five people.' }, newPanel('search')],
  look: FIRST_LOOK,
  around: null,
  looks: [
    {
      id: 2,
      look: { ...FIRST_LOOK, look: 'plate', palette: 'clay' },
      by: { id: 1, name: 'Mara Winslow', initials: 'MW' },
      at: '2026-11-01T08:00:00Z',
    },
  ],
  warnings: [],
  posts: 125,
  held: [],
  overlaps: [],
  turns: [],
  titles: [{ id: 7, title: 'Lamps along the feeder', shown: true }],
  ...parts,
});

async function open<T>(part: Type<T>, parts: Partial<SiteView> = {}): Promise<Shown<T>> {
  const page = await show(part);
  await answer((r) => r.flush(site(parts)), '/api/site');
  await page.fixture.whenStable();
  return page;
}
/** What was saved; answered with the site as it is then. */
async function saved(
  path: string,
  method: string,
  parts: Partial<SiteView> = {},
): Promise<Record<string, unknown>> {
  let body: Record<string, unknown> = {};
  await answer(
    (r) => {
      body = savedBody(r);
      r.flush(site({ version: 5, ...parts }));
    },
    path,
    method,
  );
  await answer((r) => r.flush(session('managing editor')), '/api/session');
  return body;
}
const labelled = (page: Shown<unknown>, label: string) =>
  page.page.querySelector<HTMLButtonElement>(`[aria-label="${label}"]`)!;
const text = (page: Shown<unknown>) => (page.page.textContent ?? '').replace(/\s+/g, ' ');

describe('the menu and the panels', () => {
  it('are put in order by keys, and saved together with what version they were made upon', async () => {
    const page = await open(MenuPage);
    const entries = () =>
      [...page.page.querySelectorAll('[aria-label="Entries of the menu"] li .grow')].map((e) =>
        (e.firstChild?.textContent ?? '').trim(),
      );
    expect(entries()).toEqual(['Walks', 'Lamps along the feeder', 'All of it']);
    labelled(page, 'Move up: All of it').click();
    await page.fixture.whenStable();
    expect(entries()).toEqual(['Walks', 'All of it', 'Lamps along the feeder']);
    expect(TestBed.inject(Unsaved).any()).toBe(true);
    await press(page.loader, 'Save');
    expect(await saved('/api/site', 'PATCH')).toEqual({ version: 4, menu: [menu[0], menu[2], menu[1]] });
    expect(TestBed.inject(Unsaved).any()).toBe(false);
  });

  it('get entries, lose them, and call them otherwise', async () => {
    const page = await open(MenuPage);
    await press(page.loader, 'Add a page …');
    const [open1] = await page.loader.getAllHarnesses(MatMenuHarness.with({ triggerText: 'Add a page …' }));
    await open1!.clickItem({ text: 'Writers' });
    labelled(page, 'Remove Walks').click();
    await page.fixture.whenStable();
    labelled(page, 'Change Lamps along the feeder').click();
    await page.fixture.whenStable();
    await type(page.loader, 'Called', 'Lamps');
    await press(page.loader, 'Save');
    expect((await saved('/api/site', 'PATCH'))['menu']).toEqual([
      { ...menu[1], label: 'Lamps' },
      menu[2],
      { kind: 'page', page: 'writers', label: '' },
    ]);
  });

  it('keep what a panel says that is taken away', async () => {
    const page = await open(MenuPage);
    labelled(page, 'Hide About').click();
    await page.fixture.whenStable();
    expect(text(page)).toContain('hidden, its settings kept');
    await press(page.loader, 'Save');
    expect((await saved('/api/site', 'PATCH'))['panels']).toEqual([
      { ...newPanel('about'), text: 'Five people.', shown: false },
      newPanel('search'),
    ]);
  });

  /** Somebody else decided something while this page is open. */
  const heard = async (page: Shown<unknown>, parts: Partial<SiteView>) => {
    (TestBed.inject(Live) as unknown as { events: Subject<object> }).events.next({ kind: 'blog' });
    await answer((r) => r.flush(site({ version: 5, ...parts })), '/api/site');
    await page.fixture.whenStable();
  };

  it('wait for a choice where somebody else made another menu meanwhile', async () => {
    const page = await open(MenuPage);
    labelled(page, 'Move up: All of it').click();
    await heard(page, { menu: [menu[1]!] });
    for (let n = 0; n < 2; n++) {
      await press(page.loader, 'Save');
      expect(text(page)).toContain('Choose between your version and theirs first.');
    }
    expect(text(page)).toContain('changed “Menu” while you were at it. It is now Lamps along the feeder.');
    // What was put in order here is still here, and is saved upon what they made.
    await press(page.loader, 'Keep mine');
    await press(page.loader, 'Save');
    expect(await saved('/api/site', 'PATCH')).toEqual({ version: 5, menu: [menu[0], menu[2], menu[1]] });
  });

  it('can be left for what somebody else made', async () => {
    const page = await open(MenuPage);
    labelled(page, 'Move up: All of it').click();
    await heard(page, { menu: [menu[1]!] });
    await press(page.loader, 'Use theirs');
    expect(TestBed.inject(Unsaved).any()).toBe(false);
    expect(labelled(page, 'Remove Walks')).toBeNull();
    labelled(page, 'Remove Lamps along the feeder').click();
    await page.fixture.whenStable();
    await press(page.loader, 'Save');
    expect(await saved('/api/site', 'PATCH')).toEqual({ version: 5, menu: [] });
  });

  it('follow what somebody else did to the panels while the menu is changed here', async () => {
    const page = await open(MenuPage);
    labelled(page, 'Move up: All of it').click();
    await heard(page, { panels: [newPanel('search')] });
    expect(labelled(page, 'Hide About')).toBeNull();
    await press(page.loader, 'Save');
    expect(await saved('/api/site', 'PATCH')).toEqual({ version: 5, menu: [menu[0], menu[2], menu[1]] });
  });

  it('are saved though something else was decided meanwhile', async () => {
    const page = await open(MenuPage);
    labelled(page, 'Move up: All of it').click();
    await heard(page, { settings: { ...USUAL_SITE, comments: !USUAL_SITE.comments } });
    await press(page.loader, 'Save');
    expect(await saved('/api/site', 'PATCH')).toMatchObject({ version: 5 });
  });

  it('say what is amiss, and that somebody else was quicker', async () => {
    const page = await open(MenuPage, { warnings: ['The blog itself is in no menu.'] });
    expect(page.page.querySelector('.warn')?.textContent).toContain('in no menu');
    labelled(page, 'Move down: Walks').click();
    await page.fixture.whenStable();
    await press(page.loader, 'Save');
    await answer(
      refuse({ status: 412, code: 'version-conflict', detail: 'Somebody else changed the site meanwhile.' }),
      '/api/site',
      'PATCH',
    );
    await answer((r) => r.flush(site({ version: 9 })), '/api/site');
    await page.fixture.whenStable();
    expect(page.page.querySelector('[role=alert]')?.textContent).toContain('Somebody else');
    // What was put in order here is still here.
    expect(TestBed.inject(Unsaved).any()).toBe(true);
  });
});

describe('looks', () => {
  const tried = (page: Shown<LooksPage>) =>
    answer(
      (r) => r.flush({ html: `<p>${(JSON.parse(r.request.body as string) as { page: string }).page}</p>` }),
      '/api/site/try',
      'POST',
    ).then(() => page.fixture.whenStable());

  it('are tried beside the choice, and applied to all posts with one press', async () => {
    const page = await open(LooksPage);
    await tried(page);
    expect(page.page.querySelectorAll('iframe')).toHaveLength(2);
    expect([...page.page.querySelectorAll('iframe')].every((f) => f.getAttribute('sandbox') === '')).toBe(
      true,
    );
    expect(text(page)).toContain('This changes all 125 posts for every reader');
    const [looks, palettes] = await page.loader.getAllHarnesses(MatRadioGroupHarness);
    await looks!.checkRadioButton({ label: /^Column/ });
    await palettes!.checkRadioButton({ label: /Plum/ });
    const facts = await page.loader.getHarness(MatCheckboxHarness.with({ label: 'place' }));
    await facts.uncheck();
    await tried(page);
    await press(page.loader, /Apply/);
    expect(await saved('/api/site/look', 'POST')).toEqual({
      version: 4,
      look: {
        ...FIRST_LOOK,
        look: 'column',
        palette: 'plum',
        facts: ['byline', 'date', 'updated', 'category', 'reading time'],
      },
    });
  });

  it('of before can be tried again, and reset to what readers have', async () => {
    const page = await open(LooksPage);
    await tried(page);
    expect(text(page)).toContain('Plate, Clay, medium measure, medium text');
    await press(page.loader, 'Try it');
    await tried(page);
    const [looks] = await page.loader.getAllHarnesses(MatRadioGroupHarness);
    expect(await looks!.getCheckedValue()).toBe('plate');
    await press(page.loader, 'Reset');
    expect(await looks!.getCheckedValue()).toBe('press');
  });
});

describe('pages, the spotlight, blogs and other sites', () => {
  it('save how pages are, and where newcomers begin', async () => {
    const page = await open(PagesPage);
    await type(page.loader, 'Posts on a page', '20');
    await (
      await page.loader.getHarness(
        MatCheckboxHarness.with({ label: 'Editors may schedule in their categories' }),
      )
    ).uncheck();
    await press(page.loader, 'Save');
    expect(await saved('/api/site', 'PATCH')).toMatchObject({
      version: 4,
      postsPerPage: 20,
      editorsSchedule: false,
      letter: true,
      start: { intro: 'Sit down.', posts: [7] },
    });
  });

  it('tell overlaps and turns, and take a post down with a way back', async () => {
    const held = { id: 7, title: 'Lamps along the feeder', from: '2026-11-20', until: '2026-12-02' };
    const page = await open(SpotlightPage, {
      held: [held],
      overlaps: ['From Sat 28 Nov to Mon 30 Nov 2 are on top.'],
      turns: [{ start: '2026-11-23', postId: 7, title: 'Lamps along the feeder', shown: true }],
    });
    expect(text(page)).toContain('2 are on top');
    expect(text(page)).toContain('week of Mon 23 Nov');
    labelled(page, 'Remove Lamps along the feeder').click();
    await answer((r) => r.flush({ id: 7, version: 3 }), '/api/posts/7');
    let changed: unknown;
    await answer(
      (r) => {
        changed = JSON.parse(r.request.body as string);
        expect(r.request.headers.get('If-Match')).toBe('"3"');
        r.flush({});
      },
      '/api/posts/7',
      'PATCH',
    );
    expect(changed).toEqual({ spotlight: null });
    await answer((r) => r.flush(site()), '/api/site');
  });

  it('begin another blog where nothing else stands', async () => {
    const page = await show(BlogsPage);
    const here = { id: 1, title: 'A blog', home: 'https://halfway.example', host: null, path: '' };
    await answer((r) => r.flush([{ ...here, posts: 3, people: 2, role: 'managing editor' }]), '/api/blogs');
    await page.fixture.whenStable();
    const [name] = [...page.page.querySelectorAll('input')];
    name!.value = 'Reed and Weir';
    name!.dispatchEvent(new Event('input'));
    await press(page.loader, 'Begin the blog');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toMatchObject({
          title: 'Reed and Weir',
          host: null,
          path: '',
        });
        r.flush(
          {
            type: 'about:blank',
            title: 'Taken',
            status: 409,
            code: 'taken',
            detail: '“A blog” stands there.',
            fields: [{ field: 'path', sentence: '“A blog” stands there.' }],
          },
          { status: 409, statusText: 'Conflict' },
        );
      },
      '/api/blogs',
      'POST',
    );
    await page.fixture.whenStable();
    expect(page.page.querySelector('mat-error')?.textContent).toContain('stands there');
  });

  it('read a theme file before anything is sent, and say why one is refused', async () => {
    const page = await open(AroundPage);
    const choose = async (theme: object) => {
      const file = new File([JSON.stringify(theme)], 'theme.json', { type: 'application/json' });
      file.text = () => Promise.resolve(JSON.stringify(theme));
      await (page.component as unknown as { openTheme(files: File[]): Promise<void> }).openTheme([file]);
      await page.fixture.whenStable();
    };
    await choose({ name: 'Shop' });
    expect(text(page)).toContain('does not say where the site is');
    await choose({
      name: 'Shop',
      home: 'https://shop.example',
      color: { paper: { $value: '#ffffff' }, ink: { $value: '#111111' }, act: { $value: '#003366' } },
    });
    expect(text(page)).toContain('All text in these colours can be read');
    await type(page.loader, 'Host', 'Shop.Example');
    await press(page.loader, 'Save');
    expect(await saved('/api/site/around', 'PUT')).toMatchObject({
      version: 4,
      mount: { host: 'shop.example', path: '/journal' },
      theme: expect.stringContaining('"Shop"') as string,
    });
  });
});
