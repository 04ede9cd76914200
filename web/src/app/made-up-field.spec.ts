import { jest } from '@jest/globals';
import { signal } from '@angular/core';
import type { PlannerCard, PostView } from '@keyroster/contract';
import type { FieldSpec } from '@keyroster/core';

/** As the server's spec of the same name: what the screen draws of a field that only the registry knows. */
const MADE_UP: FieldSpec = {
  label: 'made-up line',
  kind: 'text',
  max: 40,
  set: 'write',
  checks: true,
  batch: true,
  readers: true,
  copied: true,
  card: true,
  shown: ['details', 'under the title', 'card', 'archive', 'files'],
};
const LIST = '../../../core/src/posts/field-list/text.js';
const { TEXT_FIELDS } = (await import(LIST)) as { TEXT_FIELDS: object };
jest.unstable_mockModule(LIST, () => ({ TEXT_FIELDS: { ...TEXT_FIELDS, madeUp: MADE_UP } }));
const { card, post, show, work } = await import('../testing/newsroom');
const { line, type } = await import('../testing/hands');
const { PlainTexts } = await import('./desk/plain-texts');
const { MeasureService } = await import('./posts/measure.service');
const { PostService } = await import('./posts/post.service');
const { TablePreferences } = await import('./archive/table-preferences.service');
const { Card } = await import('./planner/card');
const { PlannerPreferences, FACTS, factLabel } = await import('./planner/planner-preferences.service');
const { ChangeForm } = await import('./archive/change-form');
const { ArchiveService } = await import('./archive/archive.service');
const { ChosenService } = await import('./archive/chosen.service');

describe('a field of text that is in the registry', () => {
  afterEach(() => localStorage.clear());

  it('has a box in the details, which stores it and says what a copy left over', async () => {
    const view = signal<PostView | null>(post({ madeUp: 'As it is', subtitle: '' } as never));
    const leftovers = signal({ fields: ['madeUp'], blocks: [] });
    const { loader, page, component } = await show(PlainTexts, {
      providers: [
        { provide: PostService, useValue: { post: view } },
        { provide: MeasureService, useValue: { leftovers } },
      ],
    });
    const stored: unknown[] = [];
    component.store.subscribe((what) => stored.push(what));
    expect(await (await line(loader, 'Made-up line')).getValue()).toBe('As it is');
    await type(loader, 'Made-up line', ' Otherwise ');
    expect(stored).toEqual([[{ madeUp: 'Otherwise' }, 'The made-up line']]);
    expect(page.textContent).toContain('Still that of the post this was copied from.');
  });

  it('is closed to those who may not set it', async () => {
    const rights = { ...post().rights, write: false };
    const view = signal<PostView | null>(post({ madeUp: 'As it is', subtitle: '', rights } as never));
    const { loader } = await show(PlainTexts, {
      providers: [
        { provide: PostService, useValue: { post: view } },
        { provide: MeasureService, useValue: { leftovers: signal(null) } },
      ],
    });
    expect(await (await line(loader, 'Made-up line')).isDisabled()).toBe(true);
  });

  it('is a line on cards for those who choose it', async () => {
    const on = { ...card(), madeUp: 'On the card' } as PlannerCard;
    const { page, fixture } = await show(Card, { inputs: { post: on } });
    expect(page.textContent).not.toContain('On the card');
    const fact = FACTS.find((f) => factLabel(f) === 'made-up line')!;
    fixture.debugElement.injector.get(PlannerPreferences).toggle(fact);
    fixture.componentRef.setInput('post', { ...on });
    await fixture.whenStable();
    expect(page.textContent).toContain('On the card');
  });

  it('is a column of the archive', async () => {
    const { columns } = await work(TablePreferences);
    expect(columns().find((c) => c.name === 'Made-up line')).toMatchObject({ key: 'madeUp', shown: false });
  });

  it('is a place where a batch replaces words', async () => {
    const { component, page, fixture } = await show(ChangeForm, {
      providers: [ArchiveService, ChosenService],
    });
    component['now'].set('replace');
    component['begin']('replace');
    await fixture.whenStable();
    expect(page.textContent).toContain('made-up line');
  });
});
