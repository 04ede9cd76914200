import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { Router } from '@angular/router';
import type { DemoPerson } from '@keyroster/contract';
import { Api, sentenceOf } from '../api/api';
import { Door } from './door';
import { SessionService } from './session.service';

@Component({
  imports: [Door],
  template: `
    <kr-door>
      @if (session.me(); as me) {
        <h1>The newsroom is closed to readers</h1>
        <p style="margin: 8px 0 14px">You are signed in as {{ me.name }}, a reader. The blog is open to you.</p>
        <div class="row"><a class="btn act" href="/">To the blog</a><button class="btn" (click)="session.signOut(false)">Sign out</button></div>
      } @else {
      <h1>Sign in to the newsroom</h1>
      <form (submit)="signIn($event, email.value, password.value)" novalidate>
        @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
        <label class="field"><span>E-mail</span><input #email type="email" name="email" autocomplete="username" required autofocus /></label>
        <label class="field"><span>Password</span><input #password type="password" name="password" autocomplete="current-password" required /></label>
        <button class="btn act" type="submit" [disabled]="busy()">Sign in</button>
      </form>
      @if (demoPeople().length > 0) {
        <section aria-label="Demo people">
          <h2>Or come in as somebody from the demo</h2>
          <ul>
            @for (p of demoPeople(); track p.email) {
              <li><button type="button" [disabled]="busy()" (click)="enter(p.email, p.password)"><b>{{ p.name }}</b><span>{{ p.role }}</span></button></li>
            }
          </ul>
          <p class="soft">All invented. Their password is “{{ demoPeople()[0]?.password }}”.</p>
        </section>
      }
      }
    </kr-door>
  `,
  styles: `
    form { margin: 14px 0 26px; }
    section { border-top: 1px solid var(--line); padding-top: 14px; }
    ul { list-style: none; margin: 8px 0; padding: 0; border: 1px solid var(--line); border-radius: 4px; background: var(--sheet); }
    li + li { border-top: 1px solid var(--hair); }
    li button { width: 100%; display: flex; justify-content: space-between; gap: 10px; padding: 8px 12px; border: 0; background: none; cursor: pointer; text-align: left; }
    li button:hover { background: var(--verdigris-wash); }
    li b { font: 540 15px var(--serif); } li span { color: var(--soft); }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignInPage {
  protected readonly session = inject(SessionService);
  private readonly router = inject(Router);
  private readonly api = inject(Api);
  /** Where to go afterwards, from the address. */
  readonly to = input<string>();
  protected readonly fault = signal('');
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

  protected signIn(event: Event, email: string, password: string): void {
    event.preventDefault();
    if (email.trim() === '' || password === '') this.fault.set('Type your e-mail address and your password.');
    else void this.enter(email, password);
  }

  protected async enter(email: string, password: string): Promise<void> {
    this.busy.set(true);
    this.fault.set('');
    try {
      await this.session.signIn(email, password);
      if (!this.session.may('enterNewsroom')) return;
      const to = this.to();
      await this.router.navigateByUrl(to?.startsWith('/') && !to.startsWith('//') ? to : '/today');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
