import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { Router } from '@angular/router';
import type { DemoPerson } from '@keyroster/contract';
import { Api, sentenceOf } from '../api/api';
import { TextField } from '../ui/fields';
import { Door } from './door';
import { SessionService } from './session.service';
import { ErrorLine } from '../ui/error-line';

@Component({
  imports: [Door, MatButton, ReactiveFormsModule, TextField, ErrorLine],
  templateUrl: './sign-in.page.html',
  styles: `
    form {
      margin: 14px 0 26px;
    }
    section {
      border-top: 1px solid var(--line);
      padding-top: 14px;
    }
    ul {
      list-style: none;
      margin: 8px 0;
      padding: 0;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--sheet);
    }
    li + li {
      border-top: 1px solid var(--hair);
    }
    li b {
      font: 540 15px var(--serif);
    }
    li b + span {
      color: var(--soft);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignInPage {
  protected readonly session = inject(SessionService);
  private readonly router = inject(Router);
  private readonly api = inject(Api);
  /** Where to go afterwards, from the address. */
  readonly to = input<string>();
  protected readonly form = new FormGroup({
    email: new FormControl('', { nonNullable: true }),
    password: new FormControl('', { nonNullable: true }),
  });
  protected readonly error = signal('');
  protected readonly busy = signal(false);
  protected readonly demoPeople = signal<DemoPerson[]>([]);

  constructor() {
    void this.begin();
  }

  private async begin(): Promise<void> {
    await this.session.known();
    if (this.session.needsSetup()) await this.router.navigateByUrl('/set-up');
    else if (this.session.may('enterNewsroom')) await this.router.navigateByUrl('/today');
    else if (this.session.demo()) this.demoPeople.set(await this.api.call('demo.people', {}).catch(() => []));
  }

  protected signIn(): void {
    const { email, password } = this.form.getRawValue();
    if (email.trim() === '' || password === '') this.error.set('Type your e-mail address and your password.');
    else void this.enter(email, password);
  }

  protected async enter(email: string, password: string): Promise<void> {
    this.busy.set(true);
    this.error.set('');
    try {
      await this.session.signIn(email, password);
      if (!this.session.may('enterNewsroom')) return;
      const to = this.to();
      await this.router.navigateByUrl(to?.startsWith('/') && !to.startsWith('//') ? to : '/today');
    } catch (error) {
      this.error.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
