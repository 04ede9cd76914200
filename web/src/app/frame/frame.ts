import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatMenuModule } from '@angular/material/menu';
import { toSignal } from '@angular/core/rxjs-interop';
import { NavigationEnd, Router, RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { filter, map } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { Live } from '../api/live';
import { BittingMark } from '../ui/bitting-mark';
import { Actions } from './actions.service';
import { RunwayService } from './runway.service';
import { RunwayStrip } from './runway-strip';
import { isTyping } from './shortcuts';
import { ThemeService, type Theme } from './theme.service';

/** What stands around every screen: masthead, runway, and the keys that work everywhere. */
@Component({
  selector: 'kr-frame',
  imports: [RouterOutlet, RouterLink, RouterLinkActive, MatMenuModule, BittingMark, RunwayStrip],
  template: `
    <a class="skip" href="#screen" (click)="skip($event)">To the screen</a>
    <header class="mast">
      <a class="word" routerLink="/today" aria-label="Key Roster, Today"><kr-mark stage="published" [width]="40" aria-hidden="true" /><b>Key Roster</b></a>
      <nav class="tabs" aria-label="Sections">
        @for (s of actions.sections(); track s.path) {
          <a [routerLink]="s.path" routerLinkActive="on" [class.on]="s.path === '/desk' && atDesk()" ariaCurrentWhenActive="page">{{ s.label }} @if (s.path === '/desk' && runway.view()?.onDesk) { <b [attr.aria-label]="runway.view()!.onDesk + ' waiting'">{{ runway.view()!.onDesk }}</b> }</a>
        }
      </nav>
      <button class="btn fold" [matMenuTriggerFor]="sections">Sections</button>
      <mat-menu #sections="matMenu">@for (s of actions.sections(); track s.path) { <a mat-menu-item [routerLink]="s.path">{{ s.label }}</a> }</mat-menu>
      <span class="gap"></span>
      <button class="find" (click)="actions.find()"><span>Find or do anything</span><kbd aria-hidden="true">/</kbd></button>
      @if (session.may('pitch')) { <button class="btn act pitch" aria-label="New pitch" (click)="actions.newPitch()"><span>New pitch</span> <kbd aria-hidden="true">P</kbd></button> }
      <button class="me" [matMenuTriggerFor]="mine" [attr.aria-label]="session.me()?.name + ', menu'">{{ session.me()?.initials }}</button>
      <mat-menu #mine="matMenu" xPosition="before">
        <div class="who" (click)="$event.stopPropagation()"><b>{{ session.me()?.name }}</b>{{ session.me()?.role }}</div>
        <a mat-menu-item href="/" target="_blank" rel="noopener">See the blog</a>
        @for (t of themes; track t.theme) { <button mat-menu-item role="menuitemradio" [attr.aria-checked]="theme.theme() === t.theme" (click)="theme.set(t.theme)">{{ theme.theme() === t.theme ? '✓ ' : '' }}{{ t.label }}</button> }
        <button mat-menu-item (click)="actions.showKeys()">Keys <kbd>?</kbd></button>
        <button mat-menu-item (click)="session.signOut(false)">Sign out</button>
        <button mat-menu-item (click)="session.signOut(true)">Sign out everywhere</button>
      </mat-menu>
    </header>
    <kr-runway />
    @if (!live.connected()) { <p class="lost" role="status">The newsroom cannot be reached. What you see may be old; what you write is kept here until it can be.</p> }
    <main id="screen" tabindex="-1"><router-outlet /></main>
  `,
  styles: `
    :host { display: block; min-height: 100vh; }
    .skip { position: absolute; left: -999px; } .skip:focus { left: 8px; top: 8px; z-index: 9; background: var(--sheet); padding: 6px 10px; }
    .mast { display: flex; align-items: center; gap: 18px; height: 50px; padding: 0 20px; background: var(--sheet); border-bottom: 1px solid var(--line); }
    .word { display: flex; align-items: center; gap: 9px; color: var(--ink); text-decoration: none; } .word b { font: 600 20px var(--serif); white-space: nowrap; }
    .tabs { display: flex; gap: 2px; }
    .tabs a { padding: 6px 11px; border-radius: 4px; color: var(--soft); font-weight: 500; text-decoration: none; white-space: nowrap; }
    .tabs a:hover { background: var(--hair); } .tabs a.on { background: var(--ink); color: var(--on-ink); } .tabs b { font-weight: 650; margin-left: 2px; }
    .gap { flex: 1; }
    .find { display: flex; justify-content: space-between; align-items: center; width: 210px; min-height: 30px; border: 1px solid var(--line); border-radius: 4px; padding: 4px 10px; color: var(--soft); background: var(--field); cursor: pointer; }
    .me { width: 28px; height: 28px; border: 0; border-radius: 50%; background: var(--verdigris); color: var(--on-verdigris); font: 650 11px var(--sans); cursor: pointer; flex: none; }
    .who { padding: 6px 16px 10px; border-bottom: 1px solid var(--hair); color: var(--soft); } .who b { display: block; font: 560 15px var(--serif); color: var(--ink); }
    .fold { display: none; }
    .lost { background: var(--brass-wash); border-bottom: 1px solid var(--brass); padding: 6px 20px; }
    main { outline: none; }
    @media (max-width: 1080px) { .find { width: auto; } .find span { display: none; } }
    @media (max-width: 900px) {
      .mast { padding: 0 14px; gap: 8px; } .tabs, .pitch kbd, .find kbd { display: none; } .fold { display: inline-flex; }
      .word b { display: none; } .find span { display: inline; font-size: 0; } .find span::after { content: 'Find'; font-size: 13px; } .find { min-height: 36px; }
    }
  `,
  host: { '(document:keydown)': 'key($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Frame {
  protected readonly session = inject(SessionService);
  protected readonly actions = inject(Actions);
  protected readonly theme = inject(ThemeService);
  protected readonly runway = inject(RunwayService);
  protected readonly live = inject(Live);
  protected readonly themes: { theme: Theme; label: string }[] = [{ theme: 'system', label: 'Colours as the system says' }, { theme: 'light', label: 'Light colours' }, { theme: 'dark', label: 'Dark colours' }];

  /** Posts and pictures lie on the desk, though their addresses are their own. */
  protected readonly atDesk = toSignal(inject(Router).events.pipe(filter((e) => e instanceof NavigationEnd), map((e) => /^\/(posts|pictures)\b/.test(e.urlAfterRedirects))), { initialValue: false });

  protected skip(event: Event): void {
    event.preventDefault();
    document.getElementById('screen')?.focus();
  }

  protected key(event: KeyboardEvent): void {
    if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
    const act = { '/': () => this.actions.find(), p: () => this.actions.newPitch(), P: () => this.actions.newPitch(), '?': () => this.actions.showKeys() }[event.key];
    if (!act) return;
    event.preventDefault();
    void act();
  }
}
