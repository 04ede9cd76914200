import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { PersonRef } from '@keyroster/contract';

@Component({
  selector: 'kr-person',
  template: `<i aria-hidden="true">{{ person().initials }}</i>
    @if (named()) {
      <span>{{ person().name }}</span>
    }`,
  styles: `
    :host {
      display: inline-flex;
      align-items: center;
      gap: 6px;
    }
    i {
      width: var(--size, 24px);
      height: var(--size, 24px);
      border-radius: 50%;
      background: var(--verdigris);
      color: var(--on-verdigris);
      display: grid;
      place-items: center;
      font: 650 calc(var(--size, 24px) * 0.42) var(--sans);
      flex: none;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PersonBadge {
  readonly person = input.required<PersonRef>();
  readonly named = input(true);
}
