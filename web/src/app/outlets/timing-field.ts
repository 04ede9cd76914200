import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { TIMING_KINDS, WEEKDAYS, type Timing } from '@keyroster/core';

const NAMES: Record<Timing['kind'], string> = { 'same hour': 'With the release, or minutes after', 'same day': 'Same day at', 'next day': 'Next day at', weekday: 'That weekday at', 'next week': 'Next week at', 'next month': 'Next month at', date: 'A date of its own' };

/** When a piece goes out, by its post's release. */
@Component({
  selector: 'kr-timing',
  template: `
    <div class="timing">
      <select aria-label="When" [disabled]="disabled()" (change)="kind($any($event.target).value)">@for (k of kinds; track k) { <option [value]="k" [selected]="k === timing().kind">{{ names[k] }}</option> }</select>
      @switch (timing().kind) {
        @case ('same hour') { <input type="number" min="0" max="59" aria-label="Minutes after the release" [disabled]="disabled()" [value]="minutes()" (change)="changed.emit({ kind: 'same hour', minutes: within(+$any($event.target).value) })" /> }
        @case ('date') { <input type="datetime-local" aria-label="Date and time" [disabled]="disabled()" [value]="local()" (change)="$any($event.target).value && changed.emit({ kind: 'date', local: $any($event.target).value + ':00' })" /> }
        @default {
          @if (timing().kind === 'weekday') { <select aria-label="Weekday" [disabled]="disabled()" (change)="changed.emit({ kind: 'weekday', weekday: +$any($event.target).value, time: time() })">@for (w of weekdays; track w; let i = $index) { <option [value]="i + 1" [selected]="i + 1 === weekday()">{{ w }}</option> }</select> }
          <input type="time" aria-label="Time of day" [disabled]="disabled()" [value]="time()" (change)="$any($event.target).value && changed.emit($any({ ...timing(), time: $any($event.target).value }))" /> }
      }
    </div>
  `,
  styles: `.timing { display: grid; grid-template-columns: minmax(0, 1.5fr) minmax(0, 1fr); gap: 6px; } .timing:has(select + select) { grid-template-columns: 1fr 1fr 1fr; }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TimingField {
  readonly timing = input.required<Timing>();
  readonly disabled = input(false);
  /** When it is due now; a date of its own begins there. */
  readonly due = input<string | null>(null);
  readonly changed = output<Timing>();
  protected readonly kinds = TIMING_KINDS;
  protected readonly names = NAMES;
  protected readonly weekdays = WEEKDAYS;
  protected readonly time = computed(() => { const t = this.timing(); return 'time' in t ? t.time : '12:30'; });
  protected readonly weekday = computed(() => { const t = this.timing(); return t.kind === 'weekday' ? t.weekday : 5; });
  protected readonly minutes = computed(() => { const t = this.timing(); return t.kind === 'same hour' ? t.minutes : 0; });
  protected readonly local = computed(() => { const t = this.timing(); return t.kind === 'date' ? t.local.slice(0, 16) : ''; });
  protected readonly within = (minutes: number) => Math.max(0, Math.min(59, Math.trunc(minutes) || 0));

  protected kind(kind: Timing['kind']): void {
    const time = this.time();
    switch (kind) {
      case 'same hour': return this.changed.emit({ kind, minutes: 0 });
      case 'weekday': return this.changed.emit({ kind, weekday: this.weekday(), time });
      case 'date': return this.changed.emit({ kind, local: this.due() ?? `${new Date(Date.now() + 86_400_000).toISOString().slice(0, 10)}T${time}:00` });
      default: return this.changed.emit({ kind, time });
    }
  }
}
