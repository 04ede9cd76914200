import { ChangeDetectionStrategy, Component, effect, input, output } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { isReady, must, textControl } from '../ui/fields';
import { NoteText } from './note-text';

/** Asks for the words that go with a move. */
@Component({
  selector: 'kr-word-form',
  imports: [MatButton, ReactiveFormsModule, NoteText],
  template: `
    <form (submit)="$event.preventDefault(); done()" novalidate>
      <kr-note-text [formControl]="word" [label]="label()" rows="3" [max]="4000" [hint]="hint()" data-word />
      <div class="row">
        <button matButton="filled" type="submit" [disabled]="busy()">{{ act() }}</button><button
          matButton="outlined"
          type="button"
          (click)="cancelled.emit()"
        >
          Cancel
        </button>
      </div>
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WordForm {
  readonly label = input.required<string>();
  readonly hint = input('');
  /** What the button says. */
  readonly act = input.required<string>();
  /** What is said when nothing was written; nothing need be written without it. */
  readonly missing = input('');
  readonly busy = input(false);
  readonly chosen = output<string>();
  readonly cancelled = output();
  protected readonly word = textControl('');

  constructor() {
    effect(() => {
      const missing = this.missing();
      this.word.setValidators(missing ? must((word: string) => word.trim() !== '', missing) : null);
      this.word.updateValueAndValidity();
    });
    setTimeout(() => document.querySelector<HTMLElement>('[data-word] textarea')?.focus());
  }

  protected done(): void {
    if (isReady(this.word)) this.chosen.emit(this.word.value.trim());
  }
}
