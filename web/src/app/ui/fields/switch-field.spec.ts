import { Component, signal } from '@angular/core';
import { MatButtonToggleHarness } from '@angular/material/button-toggle/testing';
import { show } from '../../../testing/newsroom';
import { choicesFrom } from './choices';
import { SwitchField } from './switch-field';

@Component({
  imports: [SwitchField],
  template: `
    <kr-switch
      label="Width"
      [options]="widths"
      [names]="names"
      [value]="width()"
      (changed)="width.set($event)"
    />
  `,
})
class Widths {
  readonly widths = ['desk', 'phone'];
  readonly names = { phone: 'Phone' };
  readonly width = signal('desk');
}

describe('a switch', () => {
  it('shows all there is, and which of them holds', async () => {
    const { loader, fixture, page } = await show(Widths);
    const [desk, phone] = await loader.getAllHarnesses(MatButtonToggleHarness);
    expect([await desk!.getText(), await phone!.getText()]).toEqual(['desk', 'Phone']);
    expect([await desk!.isChecked(), await phone!.isChecked()]).toEqual([true, false]);
    await phone!.toggle();
    expect(fixture.componentInstance.width()).toBe('phone');
    expect(page.querySelector('[role=radiogroup]')?.getAttribute('aria-label')).toBe('Width');
  });
});

describe('what is offered', () => {
  it('may be words, things with a number and a name, or choices', () => {
    expect(choicesFrom(['a', 'b'], { b: 'B it is' })).toEqual([
      { value: 'a', label: 'a' },
      { value: 'b', label: 'B it is' },
    ]);
    expect(choicesFrom([{ id: 4, name: 'Walks' }])).toEqual([{ value: 4, label: 'Walks' }]);
    expect(choicesFrom([{ value: null, label: 'none' }])).toEqual([{ value: null, label: 'none' }]);
    expect(choicesFrom([1, 2])).toEqual([
      { value: 1, label: '1' },
      { value: 2, label: '2' },
    ]);
  });
});
