import { signal } from '@angular/core';
import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import type { BatchChange } from '@keyroster/core';
import { person, show, type Shown } from '../../testing/newsroom';
import { choose, press, type } from '../../testing/hands';
import { ArchiveService } from './archive.service';
import { ChangeForm } from './change-form';
import { CHANGE_KINDS } from './change-parts';

const names = signal({
  people: [person(2, 'Isla Nettle')],
  tags: [
    { id: 5, name: 'ice', posts: 2 },
    { id: 6, name: 'Locks', posts: 9 },
  ],
  filter: { campaign: ['Winter'] },
});
const formats = signal([
  { id: 4, name: 'How-to', fields: [{ key: 'time', label: 'Time', kind: 'minutes', choices: [], hint: '' }] },
]);

let form: Shown<ChangeForm>;
let added: BatchChange[];
beforeEach(async () => {
  form = await show(ChangeForm, { providers: [{ provide: ArchiveService, useValue: { names, formats } }] });
  added = [];
  form.component.added.subscribe((change) => added.push(change));
});
const begin = (kind: BatchChange['kind']) =>
  choose(form.loader, 'Add a change', CHANGE_KINDS.find((k) => k.value === kind)!.label);
const add = () => press(form.loader, 'Add this change');
const fault = () => form.page.querySelector('[role=alert]')?.textContent;

describe('one change of a batch', () => {
  it.each<[BatchChange['kind'], string, string, object]>([
    ['byline', 'Byline', 'Isla Nettle', { to: 2 }],
    ['byline', 'Byline', 'nobody', { to: null }],
    ['category', 'Category', 'Engines', { to: 2 }],
    ['second category', 'Second category', 'none', { to: null }],
    ['stage', 'Stage', 'cleared', { to: 'cleared' }],
    ['access', 'Who may read', 'staff only', { to: 'staff' }],
    ['comments', 'Comments', 'closed', { to: false }],
  ])('%s: %s becomes %s', async (kind, label, option, change) => {
    await begin(kind);
    await add();
    expect(fault()).toMatch(/^Choose /);
    await choose(form.loader, label, option);
    await add();
    expect(added).toEqual([{ kind, ...change }]);
  });

  it.each<[BatchChange['kind'], Record<string, string>, object]>([
    ['tags', { Gain: 'ICE, locks', Lose: '' }, { gain: [5, 6], lose: [] }],
    ['tags become', { Tags: '' }, { to: [] }],
    ['tags merge', { Tags: 'ice, Locks', 'Merge into': 'locks' }, { from: [5], into: 6 }],
    ['shift', { Days: '-7', Minutes: '0' }, { days: -7, minutes: 0 }],
    ['spread', { From: '1 Dec 2026' }, { from: '2026-12-01' }],
    ['spotlight', { From: '1 Dec 2026', Until: '' }, { to: { from: '2026-12-01', until: '2026-12-01' } }],
    ['spotlight', { From: '', Until: '' }, { to: null }],
    ['campaign', { Campaign: ' Winter ' }, { to: 'Winter' }],
    ['lighten', { 'At most, in kB': '300' }, { max: 300_000 }],
  ])('%s from %j', async (kind, typed, change) => {
    await begin(kind);
    for (const [label, text] of Object.entries(typed)) await type(form.loader, label, text);
    await add();
    expect(added).toEqual([{ kind, ...change }]);
  });

  it.each<[BatchChange['kind'], Record<string, string>, string]>([
    ['tags', { Gain: 'eels' }, 'There is no tag “eels” on this blog. Make it on a post first.'],
    ['tags', {}, 'Type a tag to gain or to lose.'],
    ['tags merge', { Tags: 'ice', 'Merge into': 'ice, locks' }, 'Type the one tag they become.'],
    ['shift', {}, 'Say by how much.'],
    ['spread', { From: 'soon' }, 'Choose a first day.'],
    ['spotlight', { From: '2 Dec 2026', Until: '1 Dec 2026' }, 'It would end before it begins.'],
    ['lighten', { 'At most, in kB': '20' }, 'Say between 50 and 10,000 kB.'],
    ['replace', { Find: '' }, 'Say what is to be found.'],
  ])('%s from %j is refused: %s', async (kind, typed, sentence) => {
    await begin(kind);
    for (const [label, text] of Object.entries(typed)) await type(form.loader, label, text);
    await add();
    expect(fault()).toBe(sentence);
    expect(added).toEqual([]);
  });

  it('sends a word to the writers only with the stage that asks for changes', async () => {
    await begin('stage');
    expect(form.page.textContent).not.toContain('What should change?');
    await choose(form.loader, 'Stage', 'drafting');
    await type(form.loader, 'What should change?', 'Say where.');
    await add();
    expect(added).toEqual([{ kind: 'stage', to: 'drafting', note: 'Say where.' }]);
  });

  it('finds and replaces where it is told', async () => {
    await begin('replace');
    await type(form.loader, 'Find', 'windlass');
    await type(form.loader, 'Replace with', 'key');
    const tick = async (label: string) =>
      (await form.loader.getHarness(MatCheckboxHarness.with({ label }))).toggle();
    for (const label of ['text', 'excerpt', 'Match case', 'Regular expression']) await tick(label);
    await add();
    expect(added).toEqual([
      {
        kind: 'replace',
        places: ['title', 'excerpt'],
        find: 'windlass',
        with: 'key',
        pattern: true,
        capitals: false,
      },
    ]);
  });

  it('holds a format’s field to what it takes', async () => {
    await begin('format field');
    await choose(form.loader, 'Field', 'How-to: Time');
    await type(form.loader, 'Becomes', 'an hour or so');
    await add();
    expect(fault()).toBeTruthy();
    await type(form.loader, 'Becomes', '45');
    await add();
    expect(added).toEqual([{ kind: 'format field', formatId: 4, key: 'time', to: 45 }]);
  });
});
