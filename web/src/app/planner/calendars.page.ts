import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { CalendarKind, CalendarView } from '@keyroster/contract';
import { formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { CopyLine } from '../ui/copy-line';
import { PersonBadge } from '../ui/person-badge';
import { Messages } from '../ui/messages.service';
import { ErrorLine } from '../ui/error-line';
import { PageHead } from '../ui/page-head';

const KINDS: { kind: CalendarKind; name: string; words: string }[] = [
  {
    kind: 'runs',
    name: 'The whole calendar',
    words: 'Every post at its run time, and the slots that are open in the next 13 weeks.',
  },
  { kind: 'copy', name: 'My copy dates', words: 'What I still have to hand in, on the day it is due.' },
];

/**
 * Addresses that a calendar program can subscribe to. Each holds a secret; anyone who has it can read, until it
 * is ended.
 */
@Component({
  imports: [MatButton, PersonBadge, CopyLine, ErrorLine, PageHead],
  templateUrl: './calendars.page.html',
  styleUrl: './side-page.scss',
  styles: `
    .sheet > * {
      margin-bottom: 10px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CalendarsPage {
  private readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  private readonly calendars = signal<CalendarView[]>([]);
  /** Known only for what was made on this page. */
  protected readonly addresses = signal<Partial<Record<CalendarKind, string>>>({});
  protected readonly error = signal('');
  protected readonly kinds = computed(() =>
    KINDS.filter((k) => k.kind === 'copy' || this.session.me()?.role !== 'proofreader'),
  );
  protected readonly others = computed(() => this.calendars().filter((c) => !c.mine));
  protected readonly own = (kind: CalendarKind) => this.calendars().find((c) => c.mine && c.kind === kind);
  protected readonly short = (at: string) => formatShortDate(this.session.local(at), this.session.today());

  constructor() {
    void this.refresh();
  }

  protected async make(kind: CalendarKind): Promise<void> {
    try {
      const { address } = await this.api.call('calendars.make', { body: { kind } });
      this.addresses.update((known) => ({ ...known, [kind]: address }));
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
    await this.refresh();
  }

  protected async revoke(calendar: CalendarView): Promise<void> {
    try {
      await this.api.call('calendars.revoke', { id: calendar.id });
      if (calendar.mine) this.addresses.update((known) => ({ ...known, [calendar.kind]: undefined }));
      this.messages.done('The address has ended. Programs that read it find nothing any more.');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
    await this.refresh();
  }

  private async refresh(): Promise<void> {
    this.calendars.set(await this.api.call('calendars.list', {}).catch(() => this.calendars()));
  }
}
