import { ChangeDetectionStrategy, Component, effect, model, signal, untracked } from '@angular/core';
import { ClockField } from './clock-field';
import { DateField } from './date-field';
import { Field } from './field';

/**
 * A wall time, as a day and a time of day beside each other: `YYYY-MM-DDTHH:MM:SS`, or empty while either is
 * missing.
 */
@Component({
  selector: 'kr-moment',
  imports: [ClockField, DateField],
  template: `
    <div role="group" [attr.aria-label]="label()">
      <kr-date
        label="Date"
        [disabled]="isOff()"
        [error]="error()"
        [(value)]="day"
        (valueChange)="write()"
        (changed)="done()"
      />
      <kr-clock
        label="Time"
        [disabled]="isOff()"
        [(value)]="clock"
        (valueChange)="write()"
        (changed)="done()"
      />
    </div>
  `,
  styles: `
    :host {
      display: block;
      min-width: 0;
    }
    div {
      display: grid;
      grid-template-columns: minmax(0, 1.4fr) minmax(0, 1fr);
      gap: 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MomentField extends Field<string> {
  readonly value = model('');
  protected readonly day = signal('');
  protected readonly clock = signal('');
  private told = '';

  constructor() {
    super();
    effect(() => {
      const value = this.value();
      if (value === this.told) return;
      this.told = value;
      untracked(() => {
        this.day.set(value.slice(0, 10));
        this.clock.set(value.slice(11).replace(/^(\d\d:\d\d):00$/, '$1'));
      });
    });
  }

  override writeValue(value: string | null): void {
    this.value.set(value ?? '');
  }

  protected write(): void {
    const [day, clock] = [this.day(), this.clock()];
    this.told = day && clock ? `${day}T${clock.length === 5 ? `${clock}:00` : clock}` : '';
    this.value.set(this.told);
    this.tell(this.told);
  }

  /** Emitted when both are given, or neither. */
  protected done(): void {
    if (this.told || (!this.day() && !this.clock())) this.changed.emit(this.told);
  }
}
