import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink, RouterLinkActive } from '@angular/router';
import { formatClock, formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { OutletsService } from './outlets.service';

/** The head of every screen about outlets: where else to look, and the switch that stops everything. */
@Component({
  selector: 'kr-outlets-head',
  imports: [MatButton, RouterLink, RouterLinkActive],
  template: `
    <div class="row spread head">
      <h1>{{ name() }}</h1>
      <span class="row"
        ><nav class="row" aria-label="Outlets">
          @for (p of places; track p.path) {
            <a
              matButton="outlined"
              [routerLink]="p.path"
              routerLinkActive="on"
              [routerLinkActiveOptions]="{ exact: true }"
              ariaCurrentWhenActive="page"
              >{{ p.name }}
              @if (p.path === '/outlets/log' && needs() > 0) {
                <b>{{ needs() }}</b>
              }
            </a>
          }
        </nav>
        @if (session.may('sendPieces') && !outlets.sending().stopped) {
          <button matButton="outlined" class="refuse" (click)="outlets.stop(true)">Stop all sending</button>
        }
      </span>
    </div>
    @if (outlets.sending().stopped) {
      <p class="error row spread" role="alert">
        <span>All sending is stopped{{ by() }}. Pieces wait and are lost by nobody.</span>
        @if (session.may('sendPieces')) {
          <button matButton="filled" (click)="outlets.stop(false)">Resume sending</button>
        }
      </p>
    }
    @if (outlets.error()) {
      <p class="error" role="alert">{{ outlets.error() }}</p>
    }
  `,
  styles: `
    .head {
      margin-bottom: 12px;
    }
    nav {
      gap: 4px;
    }
    .btn.on {
      background: var(--ink);
      color: var(--on-ink);
      border-color: var(--ink);
    }
    b {
      background: var(--madder);
      color: var(--sheet);
      border-radius: 8px;
      padding: 0 6px;
      font-size: 11px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OutletsHead {
  protected readonly outlets = inject(OutletsService);
  protected readonly session = inject(SessionService);
  readonly name = input.required<string>();
  protected readonly places = [
    { path: '/outlets', name: 'Outlets' },
    { path: '/outlets/log', name: 'Send log' },
    { path: '/outlets/patterns', name: 'Patterns' },
    { path: '/outlets/evergreen', name: 'Evergreen' },
  ];
  protected readonly needs = computed(() =>
    (this.outlets.outlets() ?? []).reduce((n, o) => n + o.needsPerson, 0),
  );
  protected readonly by = computed(() => {
    const { by, at } = this.outlets.sending();
    if (!at) return '';
    const local = this.session.local(at).slice(0, 16);
    return (
      `${by ? ` by ${by}` : ''} since ${formatShortDate(local, this.session.today())} ` +
      `${formatClock(`${local}:00`)}`
    );
  });
}
