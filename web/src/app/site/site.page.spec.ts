import { TestBed } from '@angular/core/testing';
import { MatMenuHarness } from '@angular/material/menu/testing';
import { answer, refuse, show, type Shown } from '../../testing/newsroom';
import { choose, line, press, type } from '../../testing/hands';
import { SessionService } from '../accounts/session.service';
import { Unsaved } from '../ui/unsaved';
import { SitePage } from './site.page';

let page: Shown<SitePage>;
const open = async () => {
  page = await show(SitePage);
};
const blog = () => TestBed.inject(SessionService).blog()!;
const again = async (parts: object = {}) => {
  await answer(
    (r) =>
      r.flush({
        me: TestBed.inject(SessionService).me(),
        blog: { ...blog(), ...parts },
        needsSetup: false,
        blogs: [],
        demo: false,
      }),
    '/api/session',
  );
  await page.fixture.whenStable();
};
const sent = (path: string, method: string, check: (body: unknown) => void) =>
  answer(
    (r) => {
      check(JSON.parse(r.request.body as string));
      r.flush({});
    },
    path,
    method,
  );
const alert = () => page.page.querySelector('mat-error, [role=alert]')?.textContent?.trim();

describe('the site’s own page', () => {
  it('saves name, tagline and first weekday together', async () => {
    await open();
    await type(page.loader, 'Name', 'The lock');
    await choose(page.loader, 'First day of the week', 'Sunday');
    await press(page.loader, 'Save');
    await sent('/api/blog', 'PATCH', (body) =>
      expect(body).toEqual({ title: 'The lock', tagline: '', zone: 'Europe/London', firstWeekday: 7 }),
    );
    await again({ title: 'The lock', firstWeekday: 7 });
    expect(TestBed.inject(Unsaved).any()).toBe(false);
  });

  it('needs a name, says what is refused, and keeps what is typed when the blog comes anew', async () => {
    await open();
    await type(page.loader, 'Name', '  ');
    await press(page.loader, 'Save');
    expect(alert()).toBe('A blog needs a name.');
    await type(page.loader, 'Name', 'The lock');
    await press(page.loader, 'Save');
    await answer(
      refuse({ detail: 'No.', fields: [{ field: 'title', sentence: 'Too plain.' }] }),
      '/api/blog',
      'PATCH',
    );
    await page.fixture.whenStable();
    expect(alert()).toBe('Too plain.');
    const refreshed = TestBed.inject(SessionService).refresh();
    await again({ title: 'Another name' });
    await refreshed;
    expect(await (await line(page.loader, 'Name')).getValue()).toBe('The lock');
  });

  it('says how much a check weighs', async () => {
    await open();
    await choose(page.loader, 'The check “links”', 'is off');
    await sent('/api/blog', 'PATCH', (body) => expect(body).toEqual({ checks: { links: 'off' } }));
    await again();
  });

  it('merges a category into another, after a question', async () => {
    await open();
    const menus = await page.loader.getAllHarnesses(MatMenuHarness);
    await menus[0]!.open();
    const items = await menus[0]!.getItems();
    expect(await Promise.all(items.map((i) => i.getText()))).toEqual(['Engines']);
    await items[0]!.click();
    expect(page.page.querySelector('[role=alert]')!.textContent).toContain('cannot be undone');
    await press(page.loader, 'Merge them');
    await sent('/api/categories/1', 'PATCH', (body) => expect(body).toEqual({ mergeInto: 2 }));
    await again();
  });

  it('adds a category in a colour that none has', async () => {
    await open();
    await type(page.loader, 'Name of a new category', 'Galley');
    await press(page.loader, 'Add the category');
    await sent('/api/categories', 'POST', (body) => expect(body).toEqual({ name: 'Galley', hue: 3 }));
    await again();
    expect(await (await line(page.loader, 'Name of a new category')).getValue()).toBe('');
  });
});
