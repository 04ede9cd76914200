import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import { MatListModule } from '@angular/material/list';
import { MatSidenavModule } from '@angular/material/sidenav';
import { RouterLink, RouterLinkActive } from '@angular/router';
import { SessionService } from '../accounts/session.service';
import { Actions } from './actions.service';

/** The sections of the newsroom on a narrow screen, slid in over it. Loaded when it is asked for. */
@Component({
  selector: 'kr-side-nav',
  imports: [MatListModule, MatSidenavModule, RouterLink, RouterLinkActive],
  template: `
    <mat-sidenav-container autosize (backdropClick)="closed.emit()">
      <mat-sidenav opened mode="over" role="navigation" aria-label="Sections" (closedStart)="closed.emit()">
        <mat-nav-list>
          @for (s of actions.sections(); track s.path) {
            <a
              mat-list-item
              [routerLink]="s.path"
              routerLinkActive
              #active="routerLinkActive"
              [activated]="active.isActive"
              ariaCurrentWhenActive="page"
              (click)="closed.emit()"
              >{{ s.label }}</a
            >
          }
          @if (session.may('pitch')) {
            <a mat-list-item routerLink="/capture" (click)="closed.emit()">Capture</a>
          }
        </mat-nav-list>
      </mat-sidenav>
    </mat-sidenav-container>
  `,
  styles: `
    mat-sidenav-container {
      position: fixed;
      inset: 0;
      z-index: 20;
      background: transparent;
    }
    mat-sidenav {
      width: 220px;
      padding: 12px 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SideNav {
  protected readonly actions = inject(Actions);
  protected readonly session = inject(SessionService);
  readonly closed = output();
}
