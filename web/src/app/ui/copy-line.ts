import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { ErrorLine } from './error-line';
import { TextField } from './fields';
import { Messages } from './messages.service';

/** Something to be taken elsewhere, such as an address or a key: shown whole, and copied with one press. */
@Component({
  selector: 'kr-copy',
  imports: [MatButton, TextField, ErrorLine],
  template: `
    <kr-text [label]="label()" readonly [value]="text()" />
    <p class="row">
      <button matButton="outlined" (click)="copy()">Copy {{ what() }}</button>
    </p>
    <kr-error [of]="error()" />
  `,
  styles: `
    :host {
      display: block;
      margin-bottom: 12px;
    }
    .row {
      margin-top: 6px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CopyLine {
  private readonly messages = inject(Messages);
  readonly label = input.required<string>();
  readonly text = input.required<string>();
  /** What it is, as in “the address”. */
  readonly what = input.required<string>();
  protected readonly error = signal('');

  protected async copy(): Promise<void> {
    this.error.set('');
    const what = this.what();
    try {
      await navigator.clipboard.writeText(this.text());
      this.messages.done(`${what.charAt(0).toUpperCase()}${what.slice(1)} is copied.`);
    } catch {
      this.error.set(`The browser does not let us copy. Select ${what} and copy it by hand.`);
    }
  }
}
