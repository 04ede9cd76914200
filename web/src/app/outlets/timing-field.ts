import { inject, ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { addDays, TIMING_KINDS, WEEKDAYS, type Timing } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { ChoiceField, ClockField, MomentField, NumberField } from '../ui/fields';

const NAMES: Record<Timing['kind'], string> = {
  'same hour': 'With the release, or minutes after',
  'same day': 'Same day at',
  'next day': 'Next day at',
  weekday: 'That weekday at',
  'next week': 'Next week at',
  'next month': 'Next month at',
  date: 'A date of its own',
};

/** When a piece goes out, by its post's release. */
@Component({
  selector: 'kr-timing',
  imports: [ChoiceField, ClockField, MomentField, NumberField],
  templateUrl: './timing-field.html',
  styles: `
    .timing {
      display: grid;
      grid-template-columns: minmax(0, 1.5fr) minmax(0, 1fr);
      gap: 6px;
    }
    .timing:has(> :nth-child(3)) {
      grid-template-columns: 1fr 1fr 1fr;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TimingField {
  private readonly session = inject(SessionService);
  readonly timing = input.required<Timing>();
  readonly disabled = input(false);
  /** When it is due now; a date of its own begins there. */
  readonly due = input<string | null>(null);
  readonly changed = output<Timing>();
  protected readonly kinds = TIMING_KINDS.map((value) => ({ value, label: NAMES[value] }));
  protected readonly weekdays = WEEKDAYS.map((label, i) => ({ value: i + 1, label }));
  protected readonly time = computed(() => {
    const t = this.timing();
    return 'time' in t ? t.time : '12:30';
  });
  protected readonly weekday = computed(() => {
    const t = this.timing();
    return t.kind === 'weekday' ? t.weekday : 5;
  });
  protected readonly minutes = computed(() => {
    const t = this.timing();
    return t.kind === 'same hour' ? t.minutes : 0;
  });
  protected readonly local = computed(() => {
    const t = this.timing();
    return t.kind === 'date' ? t.local : '';
  });

  protected retime(time: string): void {
    const t = this.timing();
    if (time && 'time' in t) this.changed.emit({ ...t, time });
  }

  protected kind(kind: Timing['kind']): void {
    const time = this.time();
    switch (kind) {
      case 'same hour':
        return this.changed.emit({ kind, minutes: 0 });
      case 'weekday':
        return this.changed.emit({ kind, weekday: this.weekday(), time });
      case 'date':
        return this.changed.emit({
          kind,
          local: this.due() ?? `${addDays(this.session.today(), 1)}T${time}:00`,
        });
      default:
        return this.changed.emit({ kind, time });
    }
  }
}
