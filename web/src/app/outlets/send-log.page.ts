import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import { SEND_STATES, type SendState, type SendView, type SendWhole } from '@keyroster/contract';
import { formatClock, formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { OutletsHead } from './outlets-head';
import { OutletsService } from './outlets.service';
import { capital, formatSendState } from './format-piece';
import { ErrorLine } from '../ui/error-line';
import { ChoiceField } from '../ui/fields';
import { MatSortModule } from '@angular/material/sort';
import { Sorted } from '../ui/sorted';

/**
 * What went out, what goes out next, and what needs a person: nothing is sent twice, and nothing is lost in
 * silence.
 */
@Component({
  imports: [MatButton, RouterLink, OutletsHead, ErrorLine, ChoiceField, MatSortModule],
  providers: [OutletsService],
  templateUrl: './send-log.page.html',
  styleUrl: './send-log.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SendLogPage {
  protected readonly outlets = inject(OutletsService);
  private readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  readonly state = input<string>();
  readonly outlet = input<string>();
  readonly look = input<string>();
  protected readonly states = SEND_STATES.map((value) => ({ value, label: formatSendState(value) }));
  protected readonly sends = signal<SendView[]>([]);
  protected readonly looked = signal<SendWhole | null>(null);
  protected readonly loaded = signal(false);
  protected readonly error = signal('');
  protected readonly capital = capital;
  protected readonly formatState = formatSendState;
  protected readonly sorted = new Sorted<SendView>(() => this.sends(), {
    state: (s) => formatSendState(s.state),
    post: (s) => s.post,
    outlet: (s) => s.outlet,
    due: (s) => s.dueLocal,
    sent: (s) => s.sentAt,
    tries: (s) => s.attempts,
  });
  protected readonly may = computed(() => this.session.may('sendPieces'));

  constructor() {
    effect(() => {
      this.state();
      this.outlet();
      untracked(() => void this.load());
    });
    effect(() => {
      const id = Number(this.look());
      untracked(() => void this.open(id));
    });
    inject(Live).gathered(['outlet'], () => {
      void this.load();
      void this.open(Number(this.look()));
    });
  }

  protected readonly local = (wall: string) =>
    `${formatShortDate(wall, this.session.today())} ${formatClock(wall)}`;
  protected at(instant: string, seconds = false): string {
    const wall = this.session.local(instant);
    return (
      `${formatShortDate(wall, this.session.today())} ` +
      `${seconds ? wall.slice(11, 19) : formatClock(`${wall.slice(0, 16)}:00`)}`
    );
  }

  protected go(queryParams: Record<string, string | number | null>): void {
    void this.router.navigate([], { queryParams, queryParamsHandling: 'merge' });
  }

  private async load(): Promise<void> {
    try {
      const state = SEND_STATES.includes(this.state() as SendState) ? (this.state() as SendState) : undefined;
      this.sends.set(
        await this.api.call('sends.list', {
          query: {
            ...(state ? { state } : {}),
            ...(Number(this.outlet()) ? { outlet: Number(this.outlet()) } : {}),
          },
        }),
      );
      this.loaded.set(true);
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  private async open(id: number): Promise<void> {
    this.looked.set(id ? await this.api.call('sends.see', { id }).catch(() => null) : null);
  }

  protected answer(send: SendView, there: boolean): Promise<void> {
    return this.act(() => this.api.call('sends.answer', { id: send.id, body: { there } }));
  }
  protected again(send: SendView): Promise<void> {
    return this.act(() => this.api.call('sends.again', { id: send.id, body: {} }));
  }

  private async act(ask: () => Promise<unknown>): Promise<void> {
    try {
      await ask();
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
    await this.load();
  }
}
