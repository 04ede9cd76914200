import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatOption } from '@angular/material/core';
import { MatSelect } from '@angular/material/select';
import { MatFormField } from '@angular/material/form-field';
import { MatButton } from '@angular/material/button';
import { Router } from '@angular/router';
import { sentenceOf } from '../api/api';
import { Door } from './door';
import { SessionService } from './session.service';

/** Shown while nobody has an account: names the blog and makes the managing editor's account. */
@Component({
  imports: [MatOption, MatSelect, MatFormField, MatButton, Door],
  templateUrl: './set-up.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SetUpPage {
  private readonly session = inject(SessionService);
  private readonly router = inject(Router);
  protected readonly here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  protected readonly zones = [...new Set([...Intl.supportedValuesOf('timeZone'), this.here])].sort();
  protected readonly error = signal('');
  protected readonly busy = signal(false);

  constructor() {
    void this.session.known().then(() => {
      if (!this.session.needsSetup()) void this.router.navigateByUrl('/sign-in');
    });
  }

  protected async make(
    event: Event,
    blogTitle: string,
    zone: string,
    name: string,
    email: string,
    password: string,
  ): Promise<void> {
    event.preventDefault();
    this.busy.set(true);
    this.error.set('');
    try {
      await this.session.setUp({ blogTitle, zone, name, email, password });
      await this.router.navigateByUrl('/site');
    } catch (error) {
      this.error.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
