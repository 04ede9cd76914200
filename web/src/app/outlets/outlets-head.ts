import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatBadge } from '@angular/material/badge';
import { MatButton } from '@angular/material/button';
import { MatTabsModule } from '@angular/material/tabs';
import { RouterLink, RouterLinkActive, type IsActiveMatchOptions } from '@angular/router';
import { formatClock, formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { OutletsService } from './outlets.service';
import { ErrorLine } from '../ui/error-line';
import { PageHead } from '../ui/page-head';

/** A screen about outlets: where else to look, the switch that stops everything, and what the screen shows. */
@Component({
  selector: 'kr-outlets-head',
  imports: [MatBadge, MatButton, MatTabsModule, RouterLink, RouterLinkActive, ErrorLine, PageHead],
  template: `
    <kr-head [name]="name()">
      @if (session.may('sendPieces') && !outlets.sending().stopped) {
        <button matButton="outlined" class="refuse" (click)="outlets.stop(true)">Stop all sending</button>
      }
    </kr-head>
    <nav mat-tab-nav-bar [tabPanel]="panel" [mat-stretch-tabs]="false" aria-label="Outlets">
      @for (p of places(); track p.path) {
        <a
          mat-tab-link
          #at="routerLinkActive"
          [routerLink]="p.path"
          routerLinkActive
          [routerLinkActiveOptions]="exactly"
          [active]="at.isActive"
          ><span
            [matBadge]="p.path === '/outlets/log' && needs() > 0 ? needs() : null"
            [matBadgeDescription]="needs() + ' to resolve'"
            matBadgeOverlap="false"
            >{{ p.name }}</span
          ></a
        >
      }
    </nav>
    @if (outlets.sending().stopped) {
      <p class="error row spread" role="alert">
        <span>All sending is stopped{{ by() }}. Pieces wait and are lost by nobody.</span>
        @if (session.may('sendPieces')) {
          <button matButton="filled" (click)="outlets.stop(false)">Resume sending</button>
        }
      </p>
    }
    <kr-error [of]="outlets.error()" />
    <mat-tab-nav-panel #panel><ng-content /></mat-tab-nav-panel>
  `,
  styles: `
    nav {
      margin-bottom: 12px;
    }
    .mat-badge:not(.mat-badge-hidden) {
      margin-right: 12px;
    }
    mat-tab-nav-panel {
      display: block;
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
  protected readonly places = computed(() => [
    { path: '/outlets', name: 'Outlets' },
    { path: '/outlets/log', name: 'Send log' },
    { path: '/outlets/patterns', name: 'Patterns' },
    { path: '/outlets/evergreen', name: 'Evergreen' },
    ...(this.session.may('writeLetters') ? [{ path: '/outlets/letters', name: 'Letters' }] : []),
    ...(this.session.may('manageBlog') ? [{ path: '/outlets/subscribers', name: 'Subscribers' }] : []),
  ]);
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
