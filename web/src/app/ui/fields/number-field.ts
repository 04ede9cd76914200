import { ChangeDetectionStrategy, Component, effect, input, model, signal, untracked } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { Field } from './field';

/**
 * A whole number, or null when empty. One that is not within `min` and `max` is the value as typed, but
 * `changed` does not tell it, and a form's control is invalid.
 */
@Component({
  selector: 'kr-number',
  imports: [MatFormFieldModule, MatInput],
  template: `
    <label [for]="id" [class.unseen]="quiet()">{{ label() }}</label>
    <mat-form-field>
      <input
        matInput
        #field
        type="number"
        inputmode="numeric"
        [id]="id"
        [value]="shown()"
        [disabled]="isOff()"
        [placeholder]="placeholder()"
        [min]="min()"
        [max]="max()"
        [errorStateMatcher]="errorState"
        (input)="write(field)"
        (change)="done()"
        (blur)="left()"
      />
      @if (hint()) {
        <mat-hint>{{ hint() }}</mat-hint>
      }
      @if (shownError()) {
        <mat-error>{{ shownError() }}</mat-error>
      }
    </mat-form-field>
  `,
  styleUrl: './field.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NumberField extends Field<number | null> {
  readonly value = model<number | null>(null);
  readonly min = input(0);
  readonly max = input(1_000_000);
  protected readonly shown = signal('');
  private told: number | null = null;

  constructor() {
    super();
    effect(() => {
      const value = this.value();
      // While it is typed, what stands in the field is the person's own.
      if (value !== this.told) untracked(() => this.writeValue(value));
    });
  }

  override writeValue(value: number | null): void {
    this.told = value;
    this.unreadable.set('');
    this.shown.set(value === null ? '' : String(value));
    this.value.set(value);
  }

  protected write(field: HTMLInputElement): void {
    // What is shown is what was typed, so that an earlier value can be drawn again.
    this.shown.set(field.value);
    const none = field.value.trim() === '';
    const n = Number(field.value);
    const whole = !none && Number.isInteger(n);
    const good = (none && !field.validity.badInput) || (whole && n >= this.min() && n <= this.max());
    this.told = whole ? n : null;
    this.value.set(this.told);
    this.tell(this.told, good ? '' : `A whole number from ${this.min()} to ${this.max()}.`);
  }

  protected done(): void {
    if (!this.unreadable()) this.changed.emit(this.told);
  }
}
