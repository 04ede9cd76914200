import { ChangeDetectionStrategy, Component, input, viewChild } from '@angular/core';
import { MatDatepickerInput, MatDatepickerModule } from '@angular/material/datepicker';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { PickedField } from './picked-field';
import { WALL_DATES } from './wall-date-adapter';

/**
 * A day, typed as people type days or picked: `YYYY-MM-DD`, or empty. While the text is no day, the value is
 * empty, `changed` tells nothing, and a form's control is invalid.
 */
@Component({
  selector: 'kr-date',
  imports: [MatFormFieldModule, MatInput, MatDatepickerModule],
  providers: WALL_DATES,
  template: `
    <label [for]="id" [class.unseen]="quiet()">{{ label() }}</label>
    <mat-form-field>
      <input
        matInput
        #field
        autocomplete="off"
        [id]="id"
        [matDatepicker]="picker"
        [min]="min() || null"
        [disabled]="isOff()"
        [placeholder]="placeholder()"
        [errorStateMatcher]="errorState"
        (input)="write(field.value)"
        (dateInput)="write(field.value)"
        (dateChange)="done()"
        (blur)="left()"
      />
      <mat-datepicker-toggle matIconSuffix [for]="picker" [disabled]="isOff()" />
      <mat-datepicker #picker />
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
export class DateField extends PickedField {
  readonly min = input('');
  private readonly input = viewChild.required<MatDatepickerInput<string>>(MatDatepickerInput);

  protected override draw(value: string): void {
    this.input().value = value || null;
  }

  protected write(text: string): void {
    this.read(this.input().value ?? '', text, 'Type a day, like 1 Dec 2026.');
  }
}
