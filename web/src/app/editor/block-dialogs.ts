import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { safeHref } from '@keyroster/core';
import { TextField, isReady, must, textControl } from '../ui/fields';
import { watchDialog } from '../ui/unsaved';

/** A button that leads somewhere. */
@Component({
  imports: [MatButton, MatDialogModule, ReactiveFormsModule, TextField],
  template: `
    <form class="dialog" [formGroup]="form" (ngSubmit)="done()" novalidate>
      <h2>Button</h2>
      <kr-text label="Words on it" [max]="120" formControlName="label" />
      <kr-text
        label="Leads to"
        [max]="2000"
        placeholder="https://… or an address on this blog"
        formControlName="href"
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
  protected readonly form = new FormGroup({
    label: textControl(
      this.data?.label,
      must((label: string) => label.trim() !== '', 'A button needs words that say where it leads.'),
    ),
    href: textControl(
      this.data?.href,
      must(
        (href: string) => !!safeHref(href.trim()),
        'A button leads to a web address (https://…), an e-mail address (mailto:…) or a page of this blog (/…).',
      ),
    ),
  });

  constructor() {
    watchDialog(this.dialog, () => this.form.dirty);
  }

  protected done(): void {
    if (!isReady(this.form)) return;
    const { label, href } = this.form.getRawValue();
    this.form.markAsPristine();
    this.dialog.close({ label: label.trim(), href: safeHref(href.trim())! });
  }
}

/** Where readers sign up for the letter. */
@Component({
  imports: [MatButton, MatDialogModule, ReactiveFormsModule, TextField],
  template: `
    <form class="dialog" [formGroup]="form" (ngSubmit)="done()" novalidate>
      <h2>Sign-up for the letter</h2>
      <kr-text
        label="Invitation"
        hint="Readers type their e-mail address below it. The managing editor finds the list on the Site screen."
        [max]="300"
        placeholder="Get the letter by e-mail."
        formControlName="invitation"
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
  protected readonly form = new FormGroup({ invitation: textControl(this.data?.invitation) });

  constructor() {
    watchDialog(this.dialog, () => this.form.dirty);
  }

  protected done(): void {
    this.form.markAsPristine();
    this.dialog.close({ invitation: this.form.getRawValue().invitation.trim() });
  }
}
