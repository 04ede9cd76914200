import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink, RouterLinkActive, type IsActiveMatchOptions } from '@angular/router';
import { formatClock, formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { OutletsService } from './outlets.service';
import { ErrorLine } from '../ui/error-line';
import { PageHead } from '../ui/page-head';

/** The head of every screen about outlets: where else to look, and the switch that stops everything. */
@Component({
  selector: 'kr-outlets-head',
  imports: [MatButton, RouterLink, RouterLinkActive, ErrorLine, PageHead],
  template: `
    <kr-head [name]="name()"
      ><nav class="row" aria-label="Outlets">
        @for (p of places; track p.path) {
          <a
            matButton="outlined"
            [routerLink]="p.path"
            routerLinkActive="on"
            [routerLinkActiveOptions]="exactly"
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
    </kr-head>
    @if (outlets.sending().stopped) {
      <p class="error row spread" role="alert">
        <span>All sending is stopped{{ by() }}. Pieces wait and are lost by nobody.</span>
        @if (session.may('sendPieces')) {
          <button matButton="filled" (click)="outlets.stop(false)">Resume sending</button>
        }
      </p>
    }
    <kr-error [of]="outlets.error()" />
  `,
  styles: `
    nav {
      gap: 4px;
    }
    .on {
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
  /** What is looked at on a screen does not matter. */
  protected readonly exactly: IsActiveMatchOptions = {
    paths: 'exact',
    queryParams: 'ignored',
    fragment: 'ignored',
    matrixParams: 'ignored',
  };
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
