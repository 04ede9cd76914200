import { ChangeDetectionStrategy, Component, computed, input, model } from '@angular/core';
import { MatOption } from '@angular/material/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatSelect } from '@angular/material/select';
import { choicesFrom, type Offered } from './choices';
import { Field } from './field';

/** One of several. With `none`, nothing can be chosen too, and is called so. */
@Component({
  selector: 'kr-choice',
  imports: [MatFormFieldModule, MatOption, MatSelect],
  template: `
    <span class="label" [class.unseen]="quiet()" aria-hidden="true">{{ label() }}</span>
    <mat-form-field>
      <mat-select
        canSelectNullableOptions
        [aria-label]="label()"
        [value]="value()"
        [disabled]="isOff()"
        [placeholder]="placeholder()"
        [errorStateMatcher]="errorState"
        (selectionChange)="choose($event.value)"
        (blur)="left()"
      >
        @if (none(); as name) {
          <mat-option [value]="null">{{ name }}</mat-option>
        }
        @for (option of choices(); track option.value) {
          <mat-option [value]="option.value">{{ option.label }}</mat-option>
        }
      </mat-select>
      @if (hint()) {
        <mat-hint>{{ hint() }}</mat-hint>
      }
      @if (shownError()) {
        <mat-error>{{ shownError() }}</mat-error>
      }
    </mat-form-field>
  `,
  styleUrl: './field.scss',
  // The arrow is higher than the line: less above and below, so that a list is as high as its neighbours.
  styles: `
    :host {
      --mat-form-field-container-vertical-padding: 3px;
    }
    @media (max-width: 700px) {
      :host {
        --mat-form-field-container-vertical-padding: 5px;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChoiceField<T> extends Field<T | null> {
  readonly options = input.required<readonly Offered<T>[]>();
  /** What words are called that do not say themselves. */
  readonly names = input<Readonly<Record<string, string>>>();
  readonly none = input('');
  readonly value = model<T | null>(null);
  protected readonly choices = computed(() => choicesFrom(this.options(), this.names()));

  override writeValue(value: T | null): void {
    this.value.set(value);
  }
  protected choose(value: T | null): void {
    this.value.set(value);
    this.tell(value);
    this.changed.emit(value);
  }
}
