import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Router } from '@angular/router';
import { sentenceOf } from '../api/api';
import { Door } from './door';
import { SessionService } from './session.service';

/** Shown while nobody has an account: names the blog and makes the managing editor's account. */
@Component({
  imports: [Door],
  template: `
    <kr-door>
      <h1>Set up your newsroom</h1>
      <p class="soft" style="margin: 6px 0 14px">Nobody has an account yet. The first one is the managing editor’s.</p>
      <form (submit)="make($event, title.value, zone.value, name.value, email.value, password.value)" novalidate>
        @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
        <label class="field"><span>Name of the blog</span><input #title name="title" required maxlength="120" autofocus /></label>
        <label class="field"><span>Home time zone</span>
          <select #zone name="zone">@for (z of zones; track z) { <option [value]="z" [selected]="z === here">{{ z }}</option> }</select>
          <small>Run times are wall times of this zone. It stays as you set it now.</small></label>
        <label class="field"><span>Your name</span><input #name name="name" autocomplete="name" required maxlength="120" /></label>
        <label class="field"><span>E-mail</span><input #email type="email" name="email" autocomplete="username" required /></label>
        <label class="field"><span>Password</span><input #password type="password" name="password" autocomplete="new-password" required minlength="10" /><small>At least 10 characters.</small></label>
        <button class="btn act" type="submit" [disabled]="busy()">Make the blog and sign in</button>
      </form>
    </kr-door>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SetUpPage {
  private readonly session = inject(SessionService);
  private readonly router = inject(Router);
  protected readonly here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  protected readonly zones = [...new Set([...Intl.supportedValuesOf('timeZone'), this.here])].sort();
  protected readonly fault = signal('');
  protected readonly busy = signal(false);

  constructor() {
    void this.session.known().then(() => { if (!this.session.needsSetup()) void this.router.navigateByUrl('/sign-in'); });
  }

  protected async make(event: Event, blogTitle: string, zone: string, name: string, email: string, password: string): Promise<void> {
    event.preventDefault();
    this.busy.set(true);
    this.fault.set('');
    try {
      await this.session.setUp({ blogTitle, zone, name, email, password });
      await this.router.navigateByUrl('/site');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
