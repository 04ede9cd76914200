import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { Router } from '@angular/router';
import { landRefusal } from '../api/refusals';
import { ChoiceField, TextField } from '../ui/fields';
import { Door } from './door';
import { SessionService } from './session.service';
import { ErrorLine } from '../ui/error-line';

/** Shown while nobody has an account: names the blog and makes the managing editor's account. */
@Component({
  imports: [MatButton, Door, ReactiveFormsModule, ChoiceField, TextField, ErrorLine],
  templateUrl: './set-up.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SetUpPage {
  private readonly session = inject(SessionService);
  private readonly router = inject(Router);
  private readonly here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  protected readonly zones = [...new Set([...Intl.supportedValuesOf('timeZone'), this.here])].sort();
  protected readonly form = new FormGroup({
    blogTitle: new FormControl('', { nonNullable: true }),
    zone: new FormControl(this.here, { nonNullable: true }),
    name: new FormControl('', { nonNullable: true }),
    email: new FormControl('', { nonNullable: true }),
    password: new FormControl('', { nonNullable: true }),
  });
  protected readonly error = signal('');
  protected readonly busy = signal(false);

  constructor() {
    void this.session.known().then(() => {
      if (!this.session.needsSetup()) void this.router.navigateByUrl('/sign-in');
    });
  }

  protected async make(): Promise<void> {
    this.busy.set(true);
    this.error.set('');
    try {
      await this.session.setUp(this.form.getRawValue());
      await this.router.navigateByUrl('/site');
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    } finally {
      this.busy.set(false);
    }
  }
}
