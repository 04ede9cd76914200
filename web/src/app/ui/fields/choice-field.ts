import { ChangeDetectionStrategy, Component, input, model } from '@angular/core';
import { MatOption } from '@angular/material/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatSelect } from '@angular/material/select';
import { Field } from './field';

export interface Choice<T> {
  value: T;
  label: string;
}
/** People, categories and the like as choices. */
export const choicesOf = (list: readonly { id: number; name: string }[]): Choice<number>[] =>
  list.map(({ id, name }) => ({ value: id, label: name }));
/** Words that say themselves as choices. */
export const wordChoices = <T extends string>(words: readonly T[]): Choice<T>[] =>
  words.map((word) => ({ value: word, label: word }));

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
        @for (option of options(); track option.value) {
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
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChoiceField<T> extends Field<T | null> {
  readonly options = input.required<readonly Choice<T>[]>();
  readonly none = input('');
  readonly value = model<T | null>(null);

  override writeValue(value: T | null): void {
    this.value.set(value);
  }
  protected choose(value: T | null): void {
    this.value.set(value);
    this.tell(value);
    this.changed.emit(value);
  }
}
