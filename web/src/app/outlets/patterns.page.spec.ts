import { signal } from '@angular/core';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { TestBed } from '@angular/core/testing';
import { MatDialogHarness } from '@angular/material/dialog/testing';
import type { OutletView, PatternView } from '@keyroster/contract';
import { answer, refuse, show, savedBody, type Shown } from '../../testing/newsroom';
import { choose, dialogGone, line, press, type } from '../../testing/hands';
import { Unsaved } from '../ui/unsaved';
import { OutletsService } from './outlets.service';
import { PatternsPage } from './patterns.page';

const PATTERNS = '/api/rollout-patterns';
const howTo: PatternView = {
  id: 3,
  name: 'How-to',
  formatId: null,
  categoryId: 2,
  campaignId: null,
  byItself: false,
  version: 4,
  stops: [
    {
      kind: 'short post',
      outletId: 4,
      instruction: 'warm',
      style: 'wedge',
      shape: 'square',
      timing: { kind: 'next day', time: '12:30' },
    },
  ],
};
let page: Shown<PatternsPage>;
async function open(patterns: PatternView[] = [howTo]): Promise<void> {
  TestBed.overrideComponent(PatternsPage, {
    set: {
      providers: [
        {
          provide: OutletsService,
          useValue: {
            outlets: signal([{ id: 4, name: 'Towline', closed: false, needsPerson: 0 } as OutletView]),
            sending: signal({ stopped: false, by: null, at: null }),
            error: signal(''),
          },
        },
      ],
    },
  });
  page = await show(PatternsPage);
  await answer((r) => r.flush(patterns), PATTERNS);
  await answer((r) => r.flush([]), '/api/campaigns');
  await answer((r) => r.flush([]), '/api/formats');
  await page.fixture.whenStable();
}
const begin = async (words: string) => {
  [...page.page.querySelectorAll<HTMLButtonElement>('button')]
    .find((b) => b.textContent!.includes(words))!
    .click();
  await new Promise((go) => setTimeout(go));
  await page.fixture.whenStable();
};
const errors = () => [...page.page.querySelectorAll('mat-error')].map((e) => e.textContent!.trim());

describe('a rollout pattern', () => {
  it('shows what it is made of, and sends it with what was changed', async () => {
    await open();
    await begin('How-to');
    expect(await (await line(page.loader, 'Name')).getValue()).toBe('How-to');
    await type(page.loader, 'Name', ' How-to, short ');
    await choose(page.loader, 'Kind', 'thread');
    await choose(page.loader, 'When', 'With the release, or minutes after');
    await type(page.loader, 'Minutes after the release', '20');
    await press(page.loader, 'Save changes');
    await answer(
      (r) => {
        expect(savedBody(r)).toEqual({
          name: 'How-to, short',
          formatId: null,
          categoryId: 2,
          campaignId: null,
          byItself: false,
          version: 4,
          stops: [{ ...howTo.stops[0], kind: 'thread', timing: { kind: 'same hour', minutes: 20 } }],
        });
        r.flush([howTo]);
      },
      `${PATTERNS}/3`,
      'PATCH',
    );
    await page.fixture.whenStable();
    // It stays open, as it is kept.
    expect(await (await line(page.loader, 'Name')).getValue()).toBe('How-to');
    expect(TestBed.inject(Unsaved).any()).toBe(false);
  });

  it('is open from the start, the first of them, and another once one is removed', async () => {
    const news = { ...howTo, id: 5, name: 'News' };
    await open([howTo, news]);
    expect(await (await line(page.loader, 'Name')).getValue()).toBe('How-to');
    await press(page.loader, 'Remove the pattern');
    const root = TestbedHarnessEnvironment.documentRootLoader(page.fixture);
    expect(await (await root.getHarness(MatDialogHarness)).getText()).toContain('Remove “How-to”?');
    await press(root, 'Remove');
    await dialogGone();
    await answer((r) => r.flush([news]), `${PATTERNS}/3`, 'DELETE');
    await page.fixture.whenStable();
    expect(await (await line(page.loader, 'Name')).getValue()).toBe('News');
  });

  it('needs a name, and at least one piece', async () => {
    await open([]);
    await begin('New pattern');
    await press(page.loader, 'Save the pattern');
    expect(errors()).toEqual(['Give the pattern a name.']);
    await begin('Another piece');
    expect(page.page.querySelectorAll('.stop')).toHaveLength(2);
    for (const i of [2, 1])
      page.page.querySelector<HTMLButtonElement>(`[aria-label="Remove piece ${i}"]`)!.click();
    await page.fixture.whenStable();
    expect(page.page.querySelector<HTMLButtonElement>('[type=submit]')!.disabled).toBe(true);
  });

  it('puts a refusal at the field that it names, and keeps what was typed', async () => {
    await open();
    await begin('How-to');
    await type(page.loader, 'Name', 'News');
    await press(page.loader, 'Save changes');
    await answer(
      refuse({ detail: 'Taken.', fields: [{ field: 'name', sentence: 'Another pattern has this name.' }] }),
      `${PATTERNS}/3`,
      'PATCH',
    );
    await page.fixture.whenStable();
    expect(errors()).toEqual(['Another pattern has this name.']);
    expect(await (await line(page.loader, 'Name')).getValue()).toBe('News');
  });

  it('asks before it is left with something unsaved, a piece taken away too', async () => {
    await open();
    const unsaved = TestBed.inject(Unsaved);
    await begin('How-to');
    expect(unsaved.any()).toBe(false);
    page.page.querySelector<HTMLButtonElement>('[aria-label="Remove piece 1"]')!.click();
    expect(unsaved.any()).toBe(true);
  });
});
