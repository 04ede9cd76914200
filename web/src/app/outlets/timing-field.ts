import { SessionService } from '../accounts/session.service';
import { inject, ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatOption } from '@angular/material/core';
import { MatSelect } from '@angular/material/select';
import { MatFormField } from '@angular/material/form-field';
import { addDays, TIMING_KINDS, WEEKDAYS, type Timing } from '@keyroster/core';

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
  imports: [MatOption, MatSelect, MatFormField],
  templateUrl: './timing-field.html',
  styles: `
    .timing {
      display: grid;
      grid-template-columns: minmax(0, 1.5fr) minmax(0, 1fr);
      gap: 6px;
    }
    .timing:has(mat-form-field + mat-form-field) {
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
  protected readonly kinds = TIMING_KINDS;
  protected readonly names = NAMES;
  protected readonly weekdays = WEEKDAYS;
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
    return t.kind === 'date' ? t.local.slice(0, 16) : '';
  });
  protected readonly within = (minutes: number) => Math.max(0, Math.min(59, Math.trunc(minutes) || 0));

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
