import { Component, signal } from '@angular/core';
import { MatAutocompleteHarness } from '@angular/material/autocomplete/testing';
import { show } from '../../../testing/newsroom';
import { line, type } from '../../../testing/hands';
import { MomentField } from './moment-field';
import { SuggestField } from './suggest-field';

@Component({
  imports: [SuggestField, MomentField],
  template: `
    <kr-suggest label="Tags" many [options]="names" [(value)]="tags" (changed)="told.push($event)" />
    <kr-moment label="Run time" [(value)]="at" (changed)="told.push($event)" />
  `,
})
class Host {
  readonly names = ['ice', 'iron', 'locks', 'slice'];
  readonly tags = signal('');
  readonly at = signal('2026-12-01T08:00:00');
  readonly told: string[] = [];
}

describe('suggestions', () => {
  it('are of the last of several names, those first that begin so, none twice', async () => {
    const { component, loader } = await show(Host);
    const list = await loader.getHarness(MatAutocompleteHarness);
    const options = async () => Promise.all((await list.getOptions()).map((o) => o.getText()));
    await list.enterText('Locks, ic');
    expect(await options()).toEqual(['ice', 'slice']);
    await list.selectOption({ text: 'ice' });
    expect(component.tags()).toBe('Locks, ice');
    expect(component.told).toEqual(['Locks, ice']);
    await list.enterText(', ');
    expect(await options()).toEqual(['iron', 'slice']);
  });
});

describe('a moment', () => {
  it('is a day and a time, told when both stand there or neither', async () => {
    const { component, loader } = await show(Host);
    expect(await (await line(loader, 'Date')).getValue()).toBe('Tue 1 Dec 2026');
    await type(loader, 'Time', '9.15');
    expect(component.at()).toBe('2026-12-01T09:15:00');
    await type(loader, 'Time', '');
    expect(component.at()).toBe('');
    await type(loader, 'Date', '');
    await type(loader, 'Date', '24 Dec 2026');
    await type(loader, 'Time', '18:00:30');
    expect(component.told).toEqual(['2026-12-01T09:15:00', '', '2026-12-24T18:00:30']);
  });
});
