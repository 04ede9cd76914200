import { ChangeDetectionStrategy, Component, viewChild } from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { MatTimepickerInput, MatTimepickerModule } from '@angular/material/timepicker';
import { PickedField } from './picked-field';
import { WALL_DATES } from './wall-date-adapter';

const SOME_DAY = '2000-01-01T';

/**
 * A time of day on a clock of 24 hours, typed or picked: `HH:MM` or `HH:MM:SS`, or empty. While the text is no
 * time, the value is empty, `changed` tells nothing, and a form's control is invalid.
 */
@Component({
  selector: 'kr-clock',
  imports: [MatFormFieldModule, MatInput, MatTimepickerModule],
  providers: WALL_DATES,
  template: `
    <label [for]="id" [class.unseen]="quiet()">{{ label() }}</label>
    <mat-form-field>
      <input
        matInput
        #field
        autocomplete="off"
        maxlength="8"
        [id]="id"
        [matTimepicker]="picker"
        [matTimepickerOpenOnClick]="false"
        [disabled]="isOff()"
        [placeholder]="placeholder()"
        [errorStateMatcher]="errorState"
        (input)="write(field.value)"
        (change)="done()"
        (blur)="left()"
      />
      <mat-timepicker-toggle matIconSuffix [for]="picker" [disabled]="isOff()" />
      <mat-timepicker #picker (selected)="write(field.value || 'picked'); done()" />
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
export class ClockField extends PickedField {
  private readonly input = viewChild.required<MatTimepickerInput<string>>(MatTimepickerInput);

  protected override draw(value: string): void {
    this.input().value.set(value ? `${SOME_DAY}${value.length === 5 ? `${value}:00` : value}` : null);
  }

  protected write(text: string): void {
    const read = /T(\d\d:\d\d(?::\d\d)?)$/.exec(this.input().value() ?? '')?.[1] ?? '';
    this.read(read.replace(/^(\d\d:\d\d):00$/, '$1'), text, 'Type a time, like 08:00.');
  }
}
