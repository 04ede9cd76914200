import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { Api } from '../api/api';
import { landRefusal } from '../api/refusals';
import { ErrorLine } from '../ui/error-line';
import { TextField, isReady, must, textControl } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { watchUnsaved } from '../ui/unsaved';

/** Another password of one's own. */
@Component({
  selector: 'kr-password',
  imports: [MatButton, ReactiveFormsModule, TextField, ErrorLine],
  template: `
    <h2>Password</h2>
    <form [formGroup]="form" (ngSubmit)="change()" novalidate>
      <kr-text
        formControlName="current"
        label="Your password now"
        type="password"
        autocomplete="current-password"
        [max]="200"
      />
      <kr-text
        formControlName="password"
        label="The new one"
        type="password"
        autocomplete="new-password"
        hint="At least 10 characters. You stay signed in here, and are signed out everywhere else."
        [max]="200"
      />
      <kr-error [of]="error()" />
      <p class="row"><button matButton="outlined" type="submit">Change the password</button></p>
    </form>
  `,
  styles: `
    :host {
      display: block;
      margin-top: 18px;
    }
    .row {
      margin-top: 10px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PasswordForm {
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  protected readonly error = signal('');
  protected readonly form = new FormGroup({
    current: textControl(
      '',
      must((word: string) => word !== '', 'Say which password you have now.'),
    ),
    password: textControl(
      '',
      must((word: string) => word.length >= 10, 'At least 10 characters.'),
    ),
  });

  constructor() {
    watchUnsaved(() => this.form.dirty);
  }

  protected async change(): Promise<void> {
    if (!isReady(this.form)) return;
    this.error.set('');
    try {
      await this.api.call('me.password', { body: this.form.getRawValue() });
      this.form.reset();
      this.messages.done('The password is changed. You are signed out everywhere else.');
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    }
  }
}
