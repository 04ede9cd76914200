import { ChangeDetectionStrategy, Component, input } from '@angular/core';

/** Where there is nothing yet: that there is nothing, and what to do next. */
@Component({
  selector: 'kr-empty',
  template: `
    @if (name()) {
      <h2>{{ name() }}</h2>
    }
    <p class="soft"><ng-content /></p>
  `,
  styles: `
    :host {
      display: block;
      border: 1px dashed var(--line);
      border-radius: 4px;
      padding: 20px 24px;
    }
    h2 {
      margin-bottom: 4px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class EmptyState {
  readonly name = input('');
}
