import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  effect,
  input,
  output,
  untracked,
} from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { formatClock, formatShortDate, formatWhen, meaningOf, type Stage } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { ClockField, DateField, isReady, must, textControl } from '../ui/fields';

const USUAL_TIME = '08:00';
const ASK = 'Choose a date and type a time, like 08:00.';

/** Asks when a post should go out, and says what will come of it before it is done. */
@Component({
  selector: 'kr-schedule-form',
  imports: [ClockField, DateField, MatButton, ReactiveFormsModule],
  template: `
    <form [formGroup]="form" (ngSubmit)="submit()" novalidate>
      <kr-date data-schedule-date label="Date" formControlName="date" />
      <kr-clock [label]="'Time, ' + zone()" placeholder="08:00" formControlName="time" />
      <p class="soft" role="status">{{ promise() }} {{ letter() }}</p>
      <div class="row">
        <button matButton="filled" type="submit" [disabled]="busy()">
          {{ label() }}</button><button matButton="outlined" type="button" (click)="cancelled.emit()">
          Cancel
        </button>
      </div>
    </form>
  `,
  styles: `
    form {
      display: grid;
      grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr);
      gap: 0 10px;
    }
    p,
    .row {
      grid-column: 1 / -1;
    }
    p {
      margin-bottom: 8px;
      min-height: 18px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ScheduleForm {
  private readonly session = inject(SessionService);
  readonly stage = input.required<Stage>();
  /** When it is planned for now. */
  readonly planned = input<string | null>(null);
  readonly busy = input(false);
  /** What becomes of the letter that is sent with the release; empty where there is none. */
  readonly letter = input('');
  readonly chosen = output<{ local: string; label: string }>();
  readonly cancelled = output();
  protected readonly form = new FormGroup({
    date: textControl(
      '',
      must((date: string) => date !== '', 'Choose a date.'),
    ),
    time: textControl(
      '',
      must((time: string) => time !== '', 'Type a time, like 08:00.'),
    ),
  });
  private readonly typed = toSignal(this.form.valueChanges, { initialValue: this.form.getRawValue() });
  protected readonly zone = computed(() => this.session.blog()?.zone ?? 'UTC');
  /** What is typed, as a wall time, or null while it is none. */
  protected readonly local = computed(() => {
    const { date, time } = this.typed();
    return date && time ? `${date}T${time.length === 5 ? `${time}:00` : time}` : null;
  });
  private readonly isPast = computed(() => {
    const local = this.local();
    return local !== null && local < this.session.now();
  });
  protected readonly label = computed(() => {
    const local = this.local();
    if (local === null) return 'Schedule';
    const day = formatShortDate(local, this.session.today());
    if (this.isPast()) return `Release now, dated ${day}`;
    const verb = { scheduled: 'Move to', 'in review': 'Clear and schedule for' }[this.stage() as string];
    return `${verb ?? 'Schedule for'} ${day}, ${formatClock(local)}`;
  });
  protected readonly promise = computed(() => {
    const local = this.local();
    if (local === null) return ASK;
    const meaning = meaningOf(local, this.zone());
    if (!meaning) return 'That is not a date and time that exists.';
    if (meaning.kind === 'gap')
      return `The clocks go forward: ${formatClock(local)} does not exist on this day.`;
    if (meaning.kind === 'doubled')
      return `The clocks go back: ${formatClock(local)} happens twice on this day. You will be asked which one.`;
    return this.isPast()
      ? 'That is in the past: it goes out at once and takes its place among the older posts.'
      : `It goes out ${formatWhen(local, this.session.today())}.`;
  });

  constructor() {
    effect(() => {
      const planned = this.planned();
      untracked(() =>
        this.form.reset({
          date: planned?.slice(0, 10) ?? this.session.today(),
          time: planned === null ? USUAL_TIME : formatClock(planned),
        }),
      );
    });
  }

  /** The button stays open while nothing can be read: Enter right after the last digit must not be lost. */
  protected submit(): void {
    const local = this.local();
    if (isReady(this.form) && local) this.chosen.emit({ local, label: this.label() });
  }
}
