import { ChangeDetectionStrategy, Component, booleanAttribute, computed, input, model } from '@angular/core';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { MatOption } from '@angular/material/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { Field } from './field';

/** So many suggestions are shown. */
const SHOWN = 20;

/** A line of text with suggestions; with `many`, several names with commas between them. */
@Component({
  selector: 'kr-suggest',
  imports: [MatFormFieldModule, MatInput, MatAutocompleteModule, MatOption],
  template: `
    <label [for]="id" [class.unseen]="quiet()">{{ label() }}</label>
    <mat-form-field>
      <input
        matInput
        #field
        [id]="id"
        [value]="value()"
        [matAutocomplete]="list"
        [disabled]="isOff()"
        [placeholder]="placeholder()"
        [attr.maxlength]="max()"
        [errorStateMatcher]="errorState"
        (input)="write(field.value)"
        (change)="changed.emit(field.value)"
        (blur)="left()"
      />
      <mat-autocomplete #list (optionSelected)="choose($event.option.value)">
        @for (found of suggested(); track found.value) {
          <mat-option [value]="found.value">{{ found.label }}</mat-option>
        }
      </mat-autocomplete>
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
export class SuggestField extends Field<string> {
  readonly value = model('');
  readonly options = input.required<readonly string[]>();
  readonly many = input(false, { transform: booleanAttribute });
  readonly max = input<number>();

  protected readonly suggested = computed(() => {
    const text = this.value();
    const at = this.many() ? text.lastIndexOf(',') + 1 : 0;
    const before = text.slice(0, at) && `${text.slice(0, at)} `;
    const begun = text.slice(at).trim().toLowerCase();
    const there = new Set(before.split(',').map((name) => name.trim().toLowerCase()));
    const fits = this.options().filter(
      (name) =>
        name.toLowerCase().includes(begun) && name.toLowerCase() !== begun && !there.has(name.toLowerCase()),
    );
    // What begins with what is typed stands first.
    const starts = (name: string) => Number(name.toLowerCase().startsWith(begun));
    return fits
      .sort((a, b) => starts(b) - starts(a))
      .slice(0, SHOWN)
      .map((label) => ({ label, value: before + label }));
  });

  override writeValue(value: string | null): void {
    this.value.set(value ?? '');
  }
  protected write(text: string): void {
    this.value.set(text);
    this.tell(text);
  }
  protected choose(text: string): void {
    this.write(text);
    this.changed.emit(text);
  }
}
