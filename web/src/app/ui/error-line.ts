import { ChangeDetectionStrategy, Component, input } from '@angular/core';

/** What went wrong, in a sentence, read out as soon as it is there. Nothing while there is nothing to say. */
@Component({
  selector: 'kr-error',
  template: `
    @if (of(); as sentence) {
      <p class="error" role="alert">{{ sentence }}</p>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ErrorLine {
  readonly of = input<string | null | undefined>('');
}
