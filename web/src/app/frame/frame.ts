import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatMenuModule } from '@angular/material/menu';
import { toSignal } from '@angular/core/rxjs-interop';
import { NavigationEnd, Router, RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { filter, map } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { Live } from '../api/live';
import { Outbox } from '../capture/outbox.service';
import { WaitingComments } from '../comments/waiting.service';
import { BittingMark } from '../ui/bitting-mark';
import { Messages } from '../ui/messages.service';
import { Actions } from './actions.service';
import { RunwayService } from './runway.service';
import { RunwayStrip } from './runway-strip';
import { isTyping } from './shortcuts';
import { ThemeService, type Theme } from './theme.service';
import { MatIcon } from '@angular/material/icon';
import { SideNav } from './side-nav';

/** What stands around every screen: masthead, runway, and the keys that work everywhere. */
@Component({
  selector: 'kr-frame',
  imports: [
    MatButton,
    RouterOutlet,
    RouterLink,
    RouterLinkActive,
    MatMenuModule,
    BittingMark,
    RunwayStrip,
    MatIcon,
    SideNav,
    MatIconButton,
  ],
  templateUrl: './frame.html',
  styleUrl: './frame.scss',
  host: { '(document:keydown)': 'key($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Frame {
  protected readonly session = inject(SessionService);
  protected readonly actions = inject(Actions);
  protected readonly theme = inject(ThemeService);
  protected readonly runway = inject(RunwayService);
  protected readonly waiting = inject(WaitingComments);
  /** What was written down without a connection comes in from whatever screen is opened. */
  protected readonly outbox = inject(Outbox);
  protected readonly live = inject(Live);
  private readonly messages = inject(Messages);
  /** The sections slid in, on a narrow screen. */
  protected readonly navOpen = signal(false);
  protected readonly themes: { theme: Theme; label: string }[] = [
    { theme: 'system', label: 'Colours as the system says' },
    { theme: 'light', label: 'Light colours' },
    { theme: 'dark', label: 'Dark colours' },
  ];

  /** Posts and pictures lie on the desk, though their addresses are their own. */
  protected readonly atDesk = toSignal(
    inject(Router).events.pipe(
      filter((e) => e instanceof NavigationEnd),
      map((e) => /^\/(posts|pictures)\b/.test(e.urlAfterRedirects)),
    ),
    { initialValue: false },
  );

  protected skip(event: Event): void {
    event.preventDefault();
    document.getElementById('screen')?.focus();
  }

  protected key(event: KeyboardEvent): void {
    if (isTyping(event) || event.altKey || event.defaultPrevented) return;
    if (event.ctrlKey || event.metaKey) {
      if (event.key === 'z' && this.messages.undo()) event.preventDefault();
      return;
    }
    const act = {
      '/': () => this.actions.find(),
      p: () => this.actions.newPitch(),
      P: () => this.actions.newPitch(),
      '?': () => this.actions.showKeys(),
    }[event.key];
    if (!act) return;
    event.preventDefault();
    void act();
  }
}
