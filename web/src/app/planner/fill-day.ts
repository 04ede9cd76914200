import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { MoveDone, PlannerCard } from '@keyroster/contract';
import {
  formatClock,
  maxOf,
  formatDate,
  formatPressing,
  formatDateConstraint,
  type PlanWarning,
  type SlotDate,
  type ZonedChoice,
} from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, ApiError, sentenceOf } from '../api/api';
import { CategoryTab } from '../site/category-tab';
import { watchDialog } from '../ui/unsaved';
import { ChoiceField, ClockField, TextField } from '../ui/fields';
import { ErrorLine } from '../ui/error-line';

export interface FillData {
  date: string;
  /** The open slot that was chosen, or null for the day as such. */
  slot: SlotDate | null;
  pitches: PlannerCard[];
  today: string;
  /** What would be wrong with a new post there. */
  warnings: (time: string, categoryId: number | null) => PlanWarning[];
}
export type FillChoice = { pitch: PlannerCard; time: string } | MoveDone;

const MAX_PITCHES = 12;

/**
 * A thought written straight onto a date, without leaving the calendar; or one that already waits in the
 * tray.
 */
@Component({
  selector: 'kr-fill-day',
  imports: [
    CategoryTab,
    MatButton,
    MatDialogModule,
    ReactiveFormsModule,
    ChoiceField,
    ClockField,
    TextField,
    ErrorLine,
  ],
  templateUrl: './fill-day.html',
  styles: `
    .warn {
      color: var(--brass);
      min-height: 18px;
    }
    h2 small {
      display: block;
      font: 500 13px var(--sans);
      color: var(--soft);
      margin-top: 2px;
    }
    .pair {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 12px;
    }
    h3 {
      font: 650 12px var(--sans);
      margin: 14px 0 4px;
      border-top: 1px solid var(--line);
      padding-top: 10px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      max-height: 30vh;
      overflow: auto;
    }
    li [matButton] {
      width: 100%;
      justify-content: space-between;
      text-align: left;
      gap: 10px;
      font: 500 14px/1.25 var(--serif);
    }
    li small {
      font: 500 11px var(--sans);
      color: var(--soft);
      white-space: nowrap;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FillDay {
  protected readonly data = inject<FillData>(MAT_DIALOG_DATA);
  protected readonly dialog = inject<MatDialogRef<FillDay, FillChoice>>(MatDialogRef);
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  protected readonly day = formatDate(this.data.date, this.data.today);
  private readonly firstCategory = this.session.isDeskFor(null)
    ? null
    : ((this.session.blog()?.categories ?? []).find((c) => this.session.isDeskFor(c.id))?.id ?? null);
  protected readonly max = maxOf;
  protected readonly form = new FormGroup({
    title: new FormControl('', { nonNullable: true }),
    thought: new FormControl('', { nonNullable: true }),
    time: new FormControl(this.data.slot?.time ?? '08:00', { nonNullable: true }),
    categoryId: new FormControl(this.data.slot?.categoryId ?? this.firstCategory),
  });
  protected readonly typed = toSignal(this.form.valueChanges, { initialValue: this.form.value });
  /** Before it lands, as for a card that is dragged. */
  protected readonly warnings = computed(() => {
    const { time, categoryId } = this.typed();
    return time ? this.data.warnings(time, categoryId ?? null) : [];
  });
  protected readonly error = signal('');
  protected readonly busy = signal(false);
  /** Where the clocks change: the two times to choose from. */
  protected readonly choices = signal<ZonedChoice[]>([]);
  protected readonly doubled = signal(false);
  protected readonly clock = formatClock;
  protected readonly mine = computed(() =>
    (this.session.blog()?.categories ?? []).filter((c) => this.session.isDeskFor(c.id)),
  );

  /** Those of the slot's category first, then whatever wants this very day; best rated and oldest first. */
  protected readonly pitches = computed(() => {
    const { slot, date } = this.data;
    const fits = (p: PlannerCard) =>
      this.session.isDeskFor(p.categoryId) &&
      (slot === null || p.categoryId === slot.categoryId || p.dateConstraint.mustBeOn === date);
    const wants = (p: PlannerCard) => (p.dateConstraint.mustBeOn === date ? 0 : 1);
    return this.data.pitches
      .filter(fits)
      .sort(
        (a, b) =>
          wants(a) - wants(b) ||
          (b.rating ?? 0) - (a.rating ?? 0) ||
          Date.parse(a.createdAt) - Date.parse(b.createdAt),
      )
      .slice(0, MAX_PITCHES);
  });

  constructor() {
    watchDialog(this.dialog, () => this.form.dirty);
  }

  protected dateConstraint(pitch: PlannerCard): string {
    return [
      formatDateConstraint(pitch.dateConstraint, this.data.today),
      formatPressing(pitch.dateConstraint, this.data.today),
    ]
      .filter(Boolean)
      .map((w) => ` · ${w}`)
      .join('');
  }

  /** `runAt` where one of two times was chosen, because the clocks change. */
  protected async keep(runAt?: string): Promise<void> {
    const { title, thought, time, categoryId } = this.form.getRawValue();
    if (title.trim() === '') {
      this.error.set('Give it a title, however rough.');
      return;
    }
    if (time === '') {
      this.error.set('Type the time like 08:00.');
      return;
    }
    this.busy.set(true);
    this.choices.set([]);
    try {
      const post = await this.api.call('posts.pitch', {
        body: { title, thought, categoryId, runAt: runAt ?? `${this.data.date}T${time}` },
      });
      this.form.markAsPristine();
      this.dialog.close({ post, sentence: '' });
    } catch (error) {
      this.error.set(sentenceOf(error));
      if (error instanceof ApiError && error.problem?.choices) {
        this.choices.set(error.problem.choices);
        this.doubled.set(error.code === 'time-doubled');
      }
    } finally {
      this.busy.set(false);
    }
  }
}
