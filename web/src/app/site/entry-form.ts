import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { MenuEntry } from '@keyroster/core';
import { TextField } from '../ui/fields';

/** What an entry of the menu is called, and of an address where it leads. */
@Component({
  selector: 'kr-entry-form',
  imports: [TextField],
  template: `
    @if (address(); as a) {
      <kr-text label="Address" [max]="500" [value]="a.url" (changed)="changed.emit({ ...a, url: $event })" />
      <kr-text
        label="Called"
        [max]="60"
        [value]="a.label"
        (changed)="changed.emit({ ...a, label: $event })"
      />
    } @else {
      <kr-text
        label="Called"
        hint="Empty: as what it leads to"
        [max]="60"
        [value]="entry().label"
        (changed)="changed.emit({ ...entry(), label: $event })"
      />
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 4px;
      padding: 6px 0 2px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class EntryForm {
  readonly entry = input.required<MenuEntry>();
  readonly changed = output<MenuEntry>();
  protected readonly address = computed(() => {
    const entry = this.entry();
    return entry.kind === 'address' ? entry : null;
  });
}
