import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatAnchor, MatButton } from '@angular/material/button';
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import type { InviteSeen } from '@keyroster/contract';
import { formatShortDate, wallTimeOf } from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';
import { landRefusal } from '../api/refusals';
import { ErrorLine } from '../ui/error-line';
import { TextField, isReady, must, textControl } from '../ui/fields';
import { Door } from './door';
import { SessionService } from './session.service';

/** Where an invitation leads: a name, a password, and one is in. Its secret stands behind the # of the address. */
@Component({
  imports: [MatAnchor, MatButton, ReactiveFormsModule, RouterLink, Door, ErrorLine, TextField],
  template: `
    <kr-door>
      @if (invite(); as i) {
        <h1>Welcome to {{ i.blog }}</h1>
        <p>
          {{ i.by }} invites you to the newsroom as {{ i.role }}. You sign in as {{ i.email }}. The invitation
          is open until {{ until(i) }}.
        </p>
        <form [formGroup]="form" (ngSubmit)="enter()" novalidate>
          <kr-error [of]="error()" />
          @if (!i.hasAccount) {
            <kr-text label="Your name" formControlName="name" [max]="120" autocomplete="name" />
          }
          <kr-text
            [label]="i.hasAccount ? 'Your password' : 'A password'"
            formControlName="password"
            type="password"
            [autocomplete]="i.hasAccount ? 'current-password' : 'new-password'"
            [hint]="
              i.hasAccount
                ? 'You have an account here: the password that you sign in with.'
                : 'At least 10 characters.'
            "
            [max]="200"
          />
          <button matButton="filled" type="submit" [disabled]="busy()">Accept invitation</button>
        </form>
      } @else {
        <h1>{{ error() ? 'This invitation does not work' : 'One moment …' }}</h1>
        <kr-error [of]="error()" />
        @if (error()) {
          <a matButton="outlined" routerLink="/sign-in">To the sign-in</a>
        }
      }
    </kr-door>
  `,
  styles: `
    form {
      margin: 14px 0 26px;
    }
    p {
      margin: 8px 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class InvitationPage {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  private readonly router = inject(Router);
  private readonly secret = inject(ActivatedRoute).snapshot.fragment ?? '';
  protected readonly invite = signal<InviteSeen | null>(null);
  protected readonly error = signal('');
  protected readonly busy = signal(false);
  protected readonly form = new FormGroup({
    name: textControl(
      '',
      must((name: string) => name.trim() !== '', 'Say how you are called.'),
    ),
    password: textControl(
      '',
      must((word: string) => word.length >= 10, 'At least 10 characters.'),
    ),
  });

  constructor() {
    void this.look();
  }

  protected until(invite: InviteSeen): string {
    // Invited people know their own clocks only.
    return formatShortDate(wallTimeOf(invite.expiresAt, Intl.DateTimeFormat().resolvedOptions().timeZone));
  }

  private async look(): Promise<void> {
    if (!/^[\w-]{20,100}$/.test(this.secret)) {
      this.error.set('The address is not complete. Copy all of it from your invitation.');
      return;
    }
    try {
      const invite = await this.api.call('invites.see', { body: { secret: this.secret } });
      this.form.controls.name.setValue(invite.name);
      this.invite.set(invite);
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  protected async enter(): Promise<void> {
    if (!isReady(this.form)) return;
    this.busy.set(true);
    try {
      await this.api.call('invites.accept', { body: { secret: this.secret, ...this.form.getRawValue() } });
      await this.session.refresh();
      await this.router.navigateByUrl(this.session.may('enterNewsroom') ? '/today' : '/sign-in');
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    } finally {
      this.busy.set(false);
    }
  }
}
