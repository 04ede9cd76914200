import { ChangeDetectionStrategy, Component } from '@angular/core';
import { MatTabsModule } from '@angular/material/tabs';
import { RouterLink, RouterLinkActive } from '@angular/router';
import { PageHead } from '../ui/page-head';

/** A screen about the site: its name, and where else to look. */
@Component({
  selector: 'kr-site-head',
  imports: [MatTabsModule, RouterLink, RouterLinkActive, PageHead],
  template: `
    <kr-head name="Site"><ng-content select="[head]" /></kr-head>
    <nav mat-tab-nav-bar [tabPanel]="panel" [mat-stretch-tabs]="false" aria-label="Site">
      @for (p of places; track p.path) {
        <a
          mat-tab-link
          #at="routerLinkActive"
          [routerLink]="p.path"
          routerLinkActive
          [routerLinkActiveOptions]="{ exact: true }"
          [active]="at.isActive"
          >{{ p.name }}</a
        >
      }
    </nav>
    <mat-tab-nav-panel #panel><ng-content /></mat-tab-nav-panel>
  `,
  styles: `
    nav {
      margin-bottom: 12px;
    }
    mat-tab-nav-panel {
      display: block;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SiteHead {
  protected readonly places = [
    { path: '/site', name: 'The blog' },
    { path: '/site/pages', name: 'Pages' },
    { path: '/site/looks', name: 'Looks' },
    { path: '/site/menu', name: 'Menu and panels' },
    { path: '/site/spotlight', name: 'Spotlight' },
    { path: '/site/members', name: 'Members' },
    { path: '/site/blogs', name: 'Blogs' },
    { path: '/site/around', name: 'In another site' },
    { path: '/site/changes', name: 'Changes' },
  ];
}
