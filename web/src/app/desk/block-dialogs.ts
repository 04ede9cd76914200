import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { safeHref } from '@keyroster/core';
import { TextField } from '../ui/fields';

/** A button that leads somewhere. */
@Component({
  imports: [MatButton, MatDialogModule, TextField],
  template: `
    <form class="dialog" (submit)="done($event, label.value(), href.value())" novalidate>
      <h2>Button</h2>
      @if (error()) {
        <p class="error" role="alert">{{ error() }}</p>
      }
      <kr-text #label label="Words on it" [max]="120" [value]="data?.label ?? ''" />
      <kr-text
        #href
        label="Leads to"
        [max]="2000"
        [value]="data?.href ?? ''"
        placeholder="https://… or an address on this blog"
      />
      <div class="ends">
        <button type="button" matButton="outlined" mat-dialog-close>Cancel</button
        ><button matButton="filled" type="submit">{{ data ? 'Change it' : 'Insert' }}</button>
      </div>
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ButtonDialog {
  private readonly dialog = inject<MatDialogRef<ButtonDialog, { label: string; href: string }>>(MatDialogRef);
  protected readonly data = inject<{ label: string; href: string } | null>(MAT_DIALOG_DATA);
  protected readonly error = signal('');

  protected done(event: Event, label: string, typed: string): void {
    event.preventDefault();
    const href = safeHref(typed.trim());
    if (label.trim() === '') this.error.set('A button needs words that say where it leads.');
    else if (!href)
      this.error.set(
        'A button leads to a web address (https://…), an e-mail address (mailto:…) or a page of this blog (/…).',
      );
    else this.dialog.close({ label: label.trim(), href });
  }
}

/** Where readers sign up for the letter. */
@Component({
  imports: [MatDialogModule, TextField],
  template: `
    <form class="dialog" (submit)="done($event, words.value())" novalidate>
      <h2>Sign-up for the letter</h2>
      <kr-text
        #words
        label="Invitation"
        hint="Readers type their e-mail address below it. The managing editor finds the list on the Site screen."
        [max]="300"
        [value]="data?.invitation ?? ''"
        placeholder="Get the letter by e-mail."
      />
      <div class="ends">
        <button type="button" matButton="outlined" mat-dialog-close>Cancel</button
        ><button matButton="filled" type="submit">{{ data ? 'Change it' : 'Insert' }}</button>
      </div>
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignUpDialog {
  private readonly dialog = inject<MatDialogRef<SignUpDialog, { invitation: string }>>(MatDialogRef);
  protected readonly data = inject<{ invitation: string } | null>(MAT_DIALOG_DATA);

  protected done(event: Event, invitation: string): void {
    event.preventDefault();
    this.dialog.close({ invitation: invitation.trim() });
  }
}
