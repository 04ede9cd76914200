import { Injectable, inject } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { Router } from '@angular/router';
import { firstValueFrom } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { ThemeService } from './theme.service';

export interface Action {
  label: string;
  keys?: string;
  run: () => void;
}

/** Catches what is typed until the place it is meant for is there. */
function captureTyped(): { end: () => string } {
  let words = '';
  const key = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === 'Backspace') words = words.slice(0, -1);
    else if ([...event.key].length === 1) words += event.key;
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  document.addEventListener('keydown', key, { capture: true });
  return {
    end: () => {
      document.removeEventListener('keydown', key, { capture: true });
      return words;
    },
  };
}

/** What can be done from anywhere: the masthead, its keys and find-or-do all read this one list. */
@Injectable({ providedIn: 'root' })
export class Actions {
  private readonly router = inject(Router);
  private readonly session = inject(SessionService);
  private readonly theme = inject(ThemeService);
  private readonly dialog = inject(MatDialog);

  private finding = false;

  /** The sections of the newsroom that this person may enter. */
  sections(): { path: string; label: string }[] {
    return [
      { path: '/today', label: 'Today' },
      { path: '/planner', label: 'Planner' },
      { path: '/desk', label: 'Desk' },
      { path: '/archive', label: 'Archive' },
      { path: '/outlets', label: 'Outlets' },
      ...(this.session.may('moderate') ? [{ path: '/comments', label: 'Comments' }] : []),
      { path: '/roster', label: 'Roster' },
      ...(this.session.may('seeResults') ? [{ path: '/results', label: 'Results' }] : []),
      ...(this.session.may('manageBlog') ? [{ path: '/site', label: 'Site' }] : []),
    ];
  }

  all(): Action[] {
    const go = (path: string) => () => void this.router.navigateByUrl(path);
    return [
      ...(this.session.may('pitch')
        ? [
            { label: 'New pitch', keys: 'P', run: () => void this.newPitch() },
            { label: 'Capture a pitch or a draft', run: go('/capture') },
          ]
        : []),
      ...this.sections().map(({ path, label }) => ({ label: `Go to ${label}`, run: go(path) })),
      ...(this.session.may('seeReleaseLog')
        ? [{ label: 'Open the release log', run: go('/archive/release-log') }]
        : []),
      { label: 'Open the send log', run: go('/outlets/log') },
      ...(this.session.may('writeLetters')
        ? [{ label: 'Write a letter to subscribers', run: go('/outlets/letters') }]
        : []),
      { label: 'Pass older posts on', run: go('/outlets/evergreen') },
      { label: 'See the runway and rhythm', run: go('/planner/rhythm') },
      { label: 'Change standing slots', run: go('/planner/slots') },
      { label: 'Enter an absence', run: go('/planner/absences') },
      ...(this.session.may('planCampaigns')
        ? [{ label: 'Plan campaigns', run: go('/planner/campaigns') }]
        : []),
      ...(this.session.may('makeSpecials')
        ? [{ label: 'Build a special from posts', run: go('/archive/specials') }]
        : []),
      ...(this.session.may('manageSerials') ? [{ label: 'Plan serials', run: go('/planner/serials') }] : []),
      { label: 'Set capacity', run: go('/planner/capacity') },
      { label: 'Subscribe to a calendar', run: go('/planner/calendars') },
      { label: 'Open the pictures', run: go('/pictures') },
      ...(this.session.may('manageTags')
        ? [{ label: 'See formats, templates and tags', run: go('/site/formats') }]
        : []),
      { label: 'See the blog as readers do', run: () => window.open('/', '_blank', 'noopener') },
      { label: 'Light colours', run: () => this.theme.set('light') },
      { label: 'Dark colours', run: () => this.theme.set('dark') },
      { label: 'Colours as the system says', run: () => this.theme.set('system') },
      { label: 'Show keyboard shortcuts', keys: '?', run: () => void this.showKeys() },
      { label: 'Sign out', run: () => void this.session.signOut(false) },
    ];
  }

  async newPitch(): Promise<void> {
    if (!this.session.may('pitch') || this.dialog.openDialogs.length > 0) return;
    const { NewPitch } = await import('../planner/new-pitch');
    this.dialog.open(NewPitch, { width: '520px', maxWidth: '94vw', ariaLabel: 'New pitch' });
  }

  async find(): Promise<void> {
    if (this.dialog.openDialogs.length > 0 || this.finding) return;
    this.finding = true;
    const typed = captureTyped();
    try {
      const { Find } = await import('./find');
      const opened = this.dialog.open(Find, {
        width: '620px',
        maxWidth: '94vw',
        position: { top: '8vh' },
        ariaLabel: 'Find or do anything',
      });
      // Until the line has the focus, keys would go astray.
      await firstValueFrom(opened.afterOpened());
      opened.componentInstance.begin(typed.end());
    } finally {
      typed.end();
      this.finding = false;
    }
  }

  async showKeys(): Promise<void> {
    if (this.dialog.openDialogs.length > 0) return;
    const { Shortcuts } = await import('./shortcuts');
    this.dialog.open(Shortcuts, { width: '560px', maxWidth: '94vw', ariaLabel: 'Keyboard shortcuts' });
  }
}
