import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { OwnSession } from '@keyroster/contract';
import { formatDevice, formatShortDate } from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';
import { ErrorLine } from '../ui/error-line';
import { SessionService } from './session.service';

/** Where one is signed in; each device can be signed out from here. */
@Component({
  selector: 'kr-sessions',
  imports: [MatButton, ErrorLine],
  template: `
    <h2>Where you are signed in</h2>
    <kr-error [of]="error()" />
    <ul>
      @for (s of sessions(); track s.id) {
        <li>
          <b>{{ device(s) }}</b>
          <span class="soft">{{ s.current ? 'here' : s.since ? 'since ' + short(s.since) : '' }}</span>
          @if (!s.current) {
            <button
              matButton="outlined"
              class="small"
              [attr.aria-label]="'Sign out ' + device(s)"
              (click)="end(s)"
            >
              Sign out
            </button>
          }
        </li>
      }
    </ul>
    <button matButton="outlined" (click)="session.signOut(true)">Sign out everywhere</button>
  `,
  styles: `
    :host {
      display: block;
      margin-top: 18px;
    }
    ul {
      list-style: none;
      padding: 0;
      margin: 0 0 10px;
    }
    li {
      display: flex;
      gap: 10px;
      align-items: center;
      padding: 4px 0;
      border-bottom: 1px solid var(--hair);
    }
    button.small {
      margin-left: auto;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SessionsList {
  private readonly api = inject(Api);
  protected readonly session = inject(SessionService);
  protected readonly sessions = signal<OwnSession[]>([]);
  protected readonly error = signal('');
  protected readonly device = (s: OwnSession) => formatDevice(s.device);
  protected readonly short = (at: string) => formatShortDate(this.session.local(at), this.session.today());

  constructor() {
    void this.refresh();
  }

  protected async end({ id }: OwnSession): Promise<void> {
    try {
      await this.api.call('sessions.end', { body: { session: id } });
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
    await this.refresh();
  }

  private async refresh(): Promise<void> {
    this.sessions.set(await this.api.call('sessions.list', {}).catch(() => this.sessions()));
  }
}
