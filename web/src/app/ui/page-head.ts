import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { RouterLink } from '@angular/router';

/** The head of a screen: the way back, its name, and at its right what can be done on it or where else to look. */
@Component({
  selector: 'kr-head',
  imports: [RouterLink],
  template: `
    @if (back(); as path) {
      <a class="back" [routerLink]="path">{{ backName() }}</a>
    }
    <h1>{{ name() }}</h1>
    <div class="row"><ng-content /></div>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto;
      gap: 2px 12px;
      align-items: center;
      margin-bottom: 12px;
    }
    .back {
      grid-column: 1 / -1;
      justify-self: start;
      font-size: 12px;
      font-weight: 600;
    }
    .row {
      justify-content: flex-end;
      min-height: 30px;
    }
    .row:empty {
      display: none;
    }
    @media (max-width: 700px) {
      :host {
        grid-template-columns: minmax(0, 1fr);
      }
      .row {
        justify-content: flex-start;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PageHead {
  readonly name = input.required<string>();
  /** Where the screen belongs, and what that is called. */
  readonly back = input<string>();
  readonly backName = input('');
}
