import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { EvergreenView, PiecesMade } from '@keyroster/contract';
import { PIECE_KINDS, formatCount, formatShortDate, type PieceKind } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { ChoiceField, ClockField, NumberField, TextField } from '../ui/fields';
import { OutletsHead } from './outlets-head';
import { OutletsService } from './outlets.service';
import { formatDue } from './format-piece';
import { ErrorLine } from '../ui/error-line';

/**
 * Older posts that did well and were not passed on lately, in a rotation over the outlets, each within its
 * outlet's pace.
 */
@Component({
  imports: [
    ChoiceField,
    ClockField,
    MatButton,
    MatCheckbox,
    NumberField,
    OutletsHead,
    RouterLink,
    TextField,
    ErrorLine,
  ],
  providers: [OutletsService],
  templateUrl: './evergreen.page.html',
  styleUrl: './evergreen.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class EvergreenPage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  protected readonly proposed = signal<EvergreenView[] | null>(null);
  protected readonly left = signal<ReadonlySet<number>>(new Set());
  protected readonly rest = signal(60);
  protected readonly every = signal(2);
  protected readonly time = signal('12:30');
  protected readonly kind = signal<PieceKind | null>(null);
  protected readonly instruction = signal('');
  protected readonly error = signal('');
  protected readonly busy = signal(false);
  protected readonly done = signal<PiecesMade | null>(null);
  protected readonly kinds = PIECE_KINDS.filter((k) => k !== 'digest');
  protected readonly chosen = computed(() => (this.proposed() ?? []).filter((e) => !this.left().has(e.id)));
  protected readonly count = (n: number) => formatCount(n, 'piece');
  protected readonly day = (date: string) => `${formatShortDate(date)} ${date.slice(0, 4)}`;
  protected readonly due = (local: string | null) => formatDue(local, this.session.today());
  protected readonly said = (d: PiecesMade) => [`${this.count(d.made.length)} made.`, ...d.refused].join(' ');

  constructor() {
    effect(() => void this.propose(this.rest(), this.every(), this.time()));
  }

  private async propose(restDays: number, everyDays: number, time: string): Promise<void> {
    try {
      this.proposed.set(await this.api.call('evergreens.see', { query: { restDays, everyDays, time } }));
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  protected leave(id: number): void {
    this.left.update((all) => {
      const next = new Set(all);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  }

  protected async plan(): Promise<void> {
    this.busy.set(true);
    try {
      this.done.set(
        await this.api.call('evergreens.plan', {
          body: {
            stops: this.chosen().map((e) => ({ postId: e.id, outletId: e.outletId, local: e.local })),
            kind: this.kind(),
            instruction: this.instruction().trim(),
          },
        }),
      );
      this.error.set('');
      await this.propose(this.rest(), this.every(), this.time());
    } catch (error) {
      this.error.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
