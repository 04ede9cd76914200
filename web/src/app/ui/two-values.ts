import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  afterRenderEffect,
  inject,
  input,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { FormMerge } from './form-merge';

/** What two people changed at once in one form, each with a choice. Saving waits for it. */
@Component({
  selector: 'kr-two-values',
  imports: [MatButton],
  template: `
    @if (of().asked() > 0 && of().meanwhile().length > 0) {
      <p class="error" role="alert">Choose between your version and theirs first.</p>
    }
    @for (one of of().meanwhile(); track one.field) {
      <div role="group" [attr.aria-label]="one.label + ': two versions'">
        <p role="status">
          {{ one.by ?? 'Somebody else' }} changed “{{ one.label }}” while you were at it. It is now
          {{ one.theirs }}{{ one.mine ? '; yours is ' + one.mine : '' }}.
        </p>
        <button matButton="outlined" class="small" type="button" (click)="of().choose(one.field, true)">
          Keep mine
        </button>
        <button matButton="outlined" class="small" type="button" (click)="of().choose(one.field, false)">
          Use theirs
        </button>
      </div>
    }
  `,
  styles: `
    div {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 8px;
      margin: 4px 0 8px;
      padding: 6px 10px;
      border-left: 3px solid var(--brass);
      background: var(--brass-wash);
    }
    p {
      flex: 1 0 100%;
      margin: 0;
      white-space: pre-line;
      overflow-wrap: anywhere;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TwoValues {
  readonly of = input.required<Pick<FormMerge<object>, 'meanwhile' | 'choose' | 'asked'>>();
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);

  constructor() {
    afterRenderEffect(() => {
      if (this.of().asked() > 0) this.element.nativeElement.querySelector('button')?.focus();
    });
  }
}
