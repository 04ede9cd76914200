import { ChangeDetectionStrategy, Component, input } from '@angular/core';

/** The head of a part of a screen: its name, and how many there are. */
@Component({
  selector: 'kr-section',
  template: `
    <h2><ng-content />{{ name() }}</h2>
    @if (count() !== null) {
      <span>{{ count() }}</span>
    }
  `,
  styles: `
    :host {
      display: flex;
      align-items: baseline;
      justify-content: space-between;
      border-top: 2px solid var(--ink);
      padding: 6px 0 5px;
    }
    h2 {
      display: flex;
      gap: 10px;
      align-items: center;
    }
    span {
      font: 600 13px var(--sans);
      color: var(--soft);
    }
    :host(.late) {
      border-color: var(--madder);
    }
    :host(.late) h2,
    :host(.late) span {
      color: var(--madder);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SectionHead {
  readonly name = input.required<string>();
  readonly count = input<number | null>(null);
}
