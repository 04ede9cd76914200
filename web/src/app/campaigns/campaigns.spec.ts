import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { TestBed } from '@angular/core/testing';
import type { CampaignItem, CampaignLine, CampaignView, OutletView } from '@keyroster/contract';
import type { Subject } from 'rxjs';
import { Clock } from '../api/clock';
import { Live } from '../api/live';
import { NOW, answer, post, refuse, show, savedBody, type Shown } from '../../testing/newsroom';
import { press, type } from '../../testing/hands';
import { Unsaved } from '../ui/unsaved';
import { CampaignsPage } from './campaigns.page';

const item = (parts: Partial<CampaignItem>): CampaignItem => ({
  kind: 'post',
  postId: 7,
  title: 'Ice on the summit',
  local: '2026-11-24T08:00:00',
  stage: 'published',
  outlet: '',
  pieceKind: null,
  state: 'out',
  figure: 1204,
  ...parts,
});
const line: CampaignLine = {
  ...{ id: 3, name: 'Winter', from: '2026-11-23', until: '2026-12-13', posts: 2, out: 1, lacks: 1 },
};
const view = (parts: Partial<CampaignView> = {}): CampaignView => ({
  ...{ id: 3, version: 2, name: 'Winter', about: 'Ice.', from: '2026-11-23', until: '2026-12-13' },
  outletIds: [1],
  items: [
    item({}),
    item({
      ...{ kind: 'piece', local: '2026-11-25T12:00:00', stage: null, outlet: 'Towline' },
      ...{ pieceKind: 'short post', state: 'waits for approval', figure: null },
    }),
    item({
      postId: 8,
      title: 'Thaw',
      local: '2026-12-13T08:00:00',
      stage: 'drafting',
      state: 'drafting',
      figure: null,
    }),
    item({ postId: 9, title: 'Some day', local: null, stage: 'pitch', state: 'pitch', figure: null }),
  ],
  pictures: [],
  lacks: ['Nothing of it goes to Towline yet.'],
  totals: [{ name: 'Reads', value: 1204 }],
  did: '',
  ...parts,
});
const OUTLETS = [
  { id: 1, name: 'Towline', closed: false },
  { id: 2, name: 'Old one', closed: true },
] as OutletView[];
const text = (page: Shown<unknown>) => (page.page.textContent ?? '').replace(/\s+/g, ' ');
const bodyOf = (r: { request: { body: unknown } }) =>
  JSON.parse(r.request.body as string) as Record<string, unknown>;

async function open(parts: Partial<CampaignView> = {}): Promise<Shown<CampaignsPage>> {
  // The server's clock counts, whatever day it is here.
  const clock = { learn: () => undefined, now: () => new Date(NOW) };
  const page = await show(CampaignsPage, { providers: [{ provide: Clock, useValue: clock }] });
  await shown(parts);
  await page.fixture.whenStable();
  await answer((r) => r.flush(OUTLETS), '/api/outlets');
  await page.fixture.whenStable();
  return page;
}
async function shown(parts: Partial<CampaignView> = {}): Promise<void> {
  await answer((r) => r.flush([line]), '/api/campaigns');
  await answer((r) => r.flush(view(parts)), '/api/campaigns/3');
}

describe('campaigns', () => {
  it('show what is missing, and posts and pieces in time and along a line of days', async () => {
    const page = await open();
    expect(text(page)).toContain('2 posts, 1 out, 1 thing missing');
    expect(text(page)).toContain('Nothing of it goes to Towline yet.');
    expect(text(page)).toContain('read 1,204 times');
    expect([...page.page.querySelectorAll('h3')].map((h) => h.textContent)).toEqual([
      'Tue 24 Nov',
      'Wed 25 Nov',
      'Sun 13 Dec',
      'Without a date',
    ]);
    // Three weeks wide: the first post on the second day of twenty, the last at the end; what has no day has no mark.
    const rows = [...page.page.querySelectorAll('kr-campaign-line .row')].slice(1);
    const marks = rows.map((r) => [...r.querySelectorAll('u')].map((u) => [u.style.left, u.className]));
    expect(marks).toEqual([
      [
        ['5%', 'out'],
        ['10%', 'piece'],
      ],
      [['100%', '']],
      [],
    ]);
    expect(page.page.querySelector<HTMLElement>('.row .today')!.style.left).toBe('15%');
  });

  it('are saved with the version that they were seen in, and keep what is typed when something else changes', async () => {
    const page = await open();
    expect(await page.loader.getAllHarnesses(MatCheckboxHarness)).toHaveLength(1);
    await type(page.loader, 'What it is for', 'Ice and thaw.');
    expect(TestBed.inject(Unsaved).any()).toBe(true);
    await (await page.loader.getHarness(MatCheckboxHarness.with({ label: 'Towline' }))).uncheck();
    await press(page.loader, 'Save');
    await answer(
      (r) => {
        expect(savedBody(r)).toEqual({
          ...{ version: 2, name: 'Winter', about: 'Ice and thaw.', outletIds: [] },
          ...{ from: '2026-11-23', until: '2026-12-13' },
        });
        r.flush(view({ version: 3, about: 'Ice and thaw.', outletIds: [] }));
      },
      '/api/campaigns/3',
      'PUT',
    );
    await shown({ version: 3, about: 'Ice and thaw.', outletIds: [] });
    expect(TestBed.inject(Unsaved).any()).toBe(false);
  });

  it('keep what is typed, take over what somebody else changed beside it, and ask where both changed the same', async () => {
    const page = await open();
    await type(page.loader, 'What it is for', 'Mine.');
    (TestBed.inject(Live) as unknown as { events: Subject<{ kind: string }> }).events.next({
      kind: 'outlet',
    });
    await shown({ version: 3, name: 'Deep winter', about: 'Theirs.' });
    await page.fixture.whenStable();
    await press(page.loader, 'Save');
    expect(text(page)).toContain('Choose between your version and theirs first.');
    expect(text(page)).toContain(
      'Somebody else changed “What it is for” while you were at it. It is now “Theirs.”.',
    );
    await press(page.loader, 'Keep mine');
    await press(page.loader, 'Save');
    await answer(
      (r) => {
        expect(savedBody(r)).toMatchObject({ version: 3, name: 'Deep winter', about: 'Mine.' });
        refuse({ code: 'version-conflict', detail: 'Somebody else changed this campaign.' })(r);
      },
      '/api/campaigns/3',
      'PUT',
    );
    await page.fixture.whenStable();
    expect(text(page)).toContain('Somebody else changed this campaign.');
  });

  it('say at its field what is refused', async () => {
    const page = await open();
    await type(page.loader, 'Name', 'Frost');
    await press(page.loader, 'Save');
    const sentence = 'There is a campaign “Frost” already.';
    await answer(
      refuse({ code: 'taken', detail: sentence, fields: [{ field: 'name', sentence }] }),
      '/api/campaigns/3',
      'PUT',
    );
    await page.fixture.whenStable();
    expect(text(page)).toContain(sentence);
  });

  it('let go of a post by its own field', async () => {
    const page = await open();
    page.page.querySelector<HTMLButtonElement>('[aria-label="Remove Thaw"]')!.click();
    await answer((r) => r.flush(post({ id: 8, version: 5 })), '/api/posts/8');
    await answer(
      (r) => {
        expect([bodyOf(r), r.request.headers.get('If-Match')]).toEqual([{ campaign: '' }, '"5"']);
        r.flush(post({ id: 8, version: 6 }));
      },
      '/api/posts/8',
      'PATCH',
    );
    await shown({ items: [] });
    await page.fixture.whenStable();
    expect(page.page.querySelector('kr-campaign-line .row.days')).not.toBeNull();
  });
});
