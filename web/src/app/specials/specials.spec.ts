import { MatButtonHarness } from '@angular/material/button/testing';
import { TestBed } from '@angular/core/testing';
import type { SpecialLine, SpecialView } from '@keyroster/contract';
import { FIRST_LOOK } from '@keyroster/core';
import { answer, refuse, show, savedBody, type Shown } from '../../testing/newsroom';
import { press, type } from '../../testing/hands';
import { Unsaved } from '../ui/unsaved';
import { SpecialPage } from './special.page';
import { SpecialsPage } from './specials.page';

const special = (parts: Partial<SpecialView> = {}): SpecialView => ({
  id: 3,
  version: 2,
  title: 'Ice',
  intro: 'What ice does.',
  slug: 'ice',
  host: null,
  home: 'https://halfway.example/special/ice/',
  look: FIRST_LOOK,
  coverId: null,
  coverAlt: '',
  parts: [
    { id: 7, title: 'Frost on the steps', stage: 'published', state: 'readable' },
    { id: 8, title: 'A letter', stage: 'withdrawn', state: 'withdrawn' },
  ],
  publishedAt: null,
  notes: ['1 post withdrawn, which the special says: “A letter”.'],
  ...parts,
});
const text = (page: Shown<unknown>) => (page.page.textContent ?? '').replace(/\s+/g, ' ');
const bodyOf = (r: { request: { body: unknown } }) =>
  JSON.parse(r.request.body as string) as Record<string, unknown>;

async function open(parts: Partial<SpecialView> = {}): Promise<Shown<SpecialPage>> {
  const page = await show(SpecialPage, { inputs: { id: '3' } });
  await answer((r) => r.flush(special(parts)), '/api/specials/3');
  await page.fixture.whenStable();
  return page;
}
/** What was asked of the picture beside it. */
async function tried(page: Shown<SpecialPage>): Promise<Record<string, unknown>> {
  let body: Record<string, unknown> = {};
  await answer(
    (r) => {
      body = bodyOf(r);
      r.flush({ html: '<p>drawn</p>' });
    },
    '/api/specials/3/try',
    'POST',
  );
  await page.fixture.whenStable();
  return body;
}
const asked = async (path: string, method: string, reply: Partial<SpecialView>) => {
  let body: Record<string, unknown> = {};
  await answer(
    (r) => {
      body = savedBody(r);
      r.flush(special(reply));
    },
    path,
    method,
  );
  return body;
};

describe('a special', () => {
  it('is drawn as it stands on the screen, and saved with the version that it was made upon', async () => {
    const page = await open();
    expect(await tried(page)).toMatchObject({ page: null, title: 'Ice', postIds: [7, 8] });
    expect(page.page.querySelector('iframe')!.getAttribute('sandbox')).toBe('');
    expect(text(page)).toContain('without its title');
    page.page.querySelector<HTMLButtonElement>('[aria-label="Move up: A letter"]')!.click();
    await type(page.loader, 'Title', 'Ice and thaw');
    expect(await tried(page)).toMatchObject({ title: 'Ice and thaw', postIds: [8, 7] });
    expect(TestBed.inject(Unsaved).any()).toBe(true);
    await press(page.loader, 'Save');
    const saved = await asked('/api/specials/3', 'PUT', { version: 3, title: 'Ice and thaw' });
    expect(saved).toMatchObject({ version: 2, title: 'Ice and thaw', slug: 'ice', host: null });
    expect(TestBed.inject(Unsaved).any()).toBe(false);
  });

  it('is saved first when it is published with something unsaved, and can be taken from readers again', async () => {
    const page = await open();
    await tried(page);
    await type(page.loader, 'What it is about', 'Ice, and thaw.');
    await press(page.loader, 'Publish');
    expect(await asked('/api/specials/3', 'PUT', { version: 3 })).toMatchObject({ intro: 'Ice, and thaw.' });
    const published = await asked('/api/specials/3/published', 'POST', {
      version: 4,
      publishedAt: '2026-11-27T08:00:00Z',
    });
    expect(published).toEqual({ version: 3, published: true });
    await page.fixture.whenStable();
    expect(text(page)).toContain('Readers have it at');
    await press(page.loader, 'Unpublish');
    expect(await asked('/api/specials/3/published', 'POST', {})).toEqual({ version: 4, published: false });
  });

  it('sends no address that cannot be one, and says at its field why one is refused', async () => {
    const page = await open();
    await tried(page);
    await type(page.loader, 'Last part of its address', 'Not an address');
    await press(page.loader, 'Save');
    expect(text(page)).toContain('Small letters, digits and single hyphens');
    await type(page.loader, 'Last part of its address', 'thaw');
    await press(page.loader, 'Save');
    const sentence = 'The special “Thaw” has this address.';
    await answer(
      refuse({ code: 'taken', detail: sentence, fields: [{ field: 'slug', sentence }] }),
      '/api/specials/3',
      'PUT',
    );
    await page.fixture.whenStable();
    expect(text(page)).toContain(sentence);
    // What was typed is still there.
    expect(page.page.querySelector<HTMLInputElement>('[formcontrolname="slug"] input')!.value).toBe('thaw');
  });
});

describe('the list of specials', () => {
  const lines: SpecialLine[] = [
    {
      id: 3,
      title: 'Ice',
      home: 'https://x/special/ice/',
      publishedAt: null,
      posts: 0,
      readable: 0,
      withdrawn: 0,
    },
    {
      ...{ id: 2, title: 'Locks', home: 'https://locks.example/', publishedAt: '2026-11-20T08:00:00Z' },
      ...{ posts: 9, readable: 6, withdrawn: 1 },
    },
  ];

  it('says what readers have of each, and leads to one only where they have it', async () => {
    const page = await show(SpecialsPage);
    await answer((r) => r.flush(lines), '/api/specials');
    await page.fixture.whenStable();
    expect(text(page)).toContain('9 posts, 1 withdrawn, 2 not shown');
    const links = [...page.page.querySelectorAll('table a')].map((a) => a.getAttribute('href'));
    expect(links).toEqual(['/archive/specials/3', '/archive/specials/2', 'https://locks.example/']);
    await (await page.loader.getHarness(MatButtonHarness.with({ text: 'Begin a special' }))).click();
    expect(text(page)).toContain('A special needs a title.');
  });
});
