import { HarnessLoader } from '@angular/cdk/testing';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { Component, signal, type Type } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { FormControl, FormGroup, ReactiveFormsModule, Validators } from '@angular/forms';
import { MatDatepickerInputHarness } from '@angular/material/datepicker/testing';
import { MatFormFieldHarness } from '@angular/material/form-field/testing';
import { MatInputHarness } from '@angular/material/input/testing';
import { MatSelectHarness } from '@angular/material/select/testing';
import { MatTimepickerInputHarness } from '@angular/material/timepicker/testing';
import { ChoiceField } from './choice-field';
import { ClockField } from './clock-field';
import { DateField } from './date-field';
import { NumberField } from './number-field';
import { TextField } from './text-field';
import { WALL_CALENDAR } from './wall-calendar';

// A Thursday; weeks begin on Monday unless a test says otherwise.
let firstWeekday = 1;

async function show<T>(host: Type<T>): Promise<{ fixture: ComponentFixture<T>; loader: HarnessLoader }> {
  TestBed.configureTestingModule({
    providers: [
      { provide: WALL_CALENDAR, useValue: { today: () => '2026-11-26', firstWeekday: () => firstWeekday } },
    ],
  });
  const fixture = TestBed.createComponent(host);
  await fixture.whenStable();
  return { fixture, loader: TestbedHarnessEnvironment.documentRootLoader(fixture) };
}

@Component({
  imports: [DateField, ClockField, NumberField, TextField, ChoiceField],
  template: `
    <kr-date label="Copy date" [(value)]="day" (changed)="told.push($event)" />
    <kr-clock label="Time" [(value)]="clock" (changed)="told.push($event)" />
    <kr-number label="Length" [min]="1" [max]="500" [(value)]="length" (changed)="told.push($event)" />
    <kr-text label="Place" [max]="10" hint="Where it plays" [(value)]="place" (changed)="told.push($event)" />
    <kr-choice label="Stage" none="any" [options]="stages" [(value)]="stage" (changed)="told.push($event)" />
  `,
})
class Bound {
  readonly day = signal('');
  readonly clock = signal('08:00');
  readonly length = signal<number | null>(null);
  readonly place = signal('Aby');
  readonly stage = signal<'cleared' | 'published' | null>(null);
  readonly stages = ['cleared', 'published'] as const;
  readonly told: unknown[] = [];
}

describe('a day', () => {
  test('is read as people type it, and shown in full once it is left', async () => {
    const { fixture, loader } = await show(Bound);
    const field = await loader.getHarness(MatDatepickerInputHarness);
    await field.setValue('1.12.');
    expect(fixture.componentInstance.day()).toBe('2026-12-01');
    await field.blur();
    expect(await field.getValue()).toBe('Tue 1 Dec 2026');
  });

  test('that is none empties the value, tells nothing, and says how to type one', async () => {
    const { fixture, loader } = await show(Bound);
    fixture.componentInstance.day.set('2026-12-24');
    await fixture.whenStable();
    const field = await loader.getHarness(MatDatepickerInputHarness);
    expect(await field.getValue()).toBe('Thu 24 Dec 2026');
    await field.setValue('31 November');
    expect(fixture.componentInstance.day()).toBe('');
    expect(await field.getValue()).toBe('31 November');
    await field.blur();
    const around = await loader.getHarness(MatFormFieldHarness.with({ hasErrors: true }));
    expect(await around.getTextErrors()).toEqual(['Type a day, like 1 Dec 2026.']);
    expect(fixture.componentInstance.told).toEqual([]);
  });

  test.each([
    [1, 'M'],
    [7, 'S'],
  ])('is picked from weeks that begin as the blog says: %i', async (first, letter) => {
    firstWeekday = first;
    const { fixture, loader } = await show(Bound);
    const field = await loader.getHarness(MatDatepickerInputHarness);
    await field.openCalendar();
    expect(document.querySelector('.mat-calendar-table-header th')!.textContent!.trim().charAt(0)).toBe(
      letter,
    );
    await (await field.getCalendar()).selectCell({ text: '30' });
    expect(fixture.componentInstance.day()).toBe('2026-11-30');
    expect(fixture.componentInstance.told).toEqual(['2026-11-30']);
    firstWeekday = 1;
  });
});

describe('a time of day', () => {
  test('stands on a clock of 24 hours and is read as people type it', async () => {
    const { fixture, loader } = await show(Bound);
    const field = await loader.getHarness(MatTimepickerInputHarness);
    expect(await field.getValue()).toBe('08:00');
    await field.setValue('2 pm');
    expect(fixture.componentInstance.clock()).toBe('14:00');
    await field.blur();
    expect(await field.getValue()).toBe('14:00');
    await field.setValue('25:00');
    expect(fixture.componentInstance.clock()).toBe('');
  });

  test('is picked from a list', async () => {
    const { fixture, loader } = await show(Bound);
    const field = await loader.getHarness(MatTimepickerInputHarness);
    const picker = await field.openTimepicker();
    await picker.selectOption({ text: '12:30' });
    expect(fixture.componentInstance.clock()).toBe('12:30');
    expect(fixture.componentInstance.told).toEqual(['12:30']);
  });
});

test('a number keeps to its limits', async () => {
  const { fixture, loader } = await show(Bound);
  const field = await loader.getHarness(MatInputHarness.with({ selector: '[type=number]' }));
  await field.setValue('800');
  await field.blur();
  expect(fixture.componentInstance.told).toEqual([]);
  const around = await loader.getHarness(MatFormFieldHarness.with({ hasErrors: true }));
  expect(await around.getTextErrors()).toEqual(['A whole number from 1 to 500.']);
  await field.setValue('500');
  expect(fixture.componentInstance.length()).toBe(500);
  expect(await around.hasErrors()).toBe(false);
});

test('a number that was there before can be put back', async () => {
  const { fixture, loader } = await show(Bound);
  const { length } = fixture.componentInstance;
  length.set(1);
  const field = await loader.getHarness(MatInputHarness.with({ selector: '[type=number]' }));
  await field.setValue('3');
  expect(length()).toBe(3);
  length.set(1);
  expect(await field.getValue()).toBe('1');
});

test('a choice can be nothing, where that has a name', async () => {
  const { fixture, loader } = await show(Bound);
  const list = await loader.getHarness(MatSelectHarness);
  expect(await list.getValueText()).toBe('any');
  await list.clickOptions({ text: 'cleared' });
  await list.clickOptions({ text: 'any' });
  expect(fixture.componentInstance.told).toEqual(['cleared', null]);
});

test('every field has its label, and its hint belongs to it', async () => {
  const { fixture } = await show(Bound);
  const inputs = [...(fixture.nativeElement as HTMLElement).querySelectorAll('input')];
  expect(inputs.map((i) => i.labels![0]!.textContent)).toEqual(['Copy date', 'Time', 'Length', 'Place']);
  const hint = document.getElementById(inputs[3]!.getAttribute('aria-describedby')!);
  expect(hint?.textContent).toBe('Where it plays');
  expect(inputs[3]!.maxLength).toBe(10);
});

@Component({
  imports: [ReactiveFormsModule, DateField, ClockField, NumberField, TextField, ChoiceField],
  template: `
    <form [formGroup]="form">
      <kr-text label="Name" formControlName="name" />
      <kr-date label="From" formControlName="from" />
      <kr-clock label="At" formControlName="at" />
      <kr-number label="Every" formControlName="every" />
      <kr-choice label="Stage" none="none" [options]="stages" formControlName="stage" />
    </form>
  `,
})
class InForm {
  readonly stages = ['cleared'] as const;
  readonly form = new FormGroup({
    name: new FormControl('Lock', { nonNullable: true, validators: Validators.required }),
    from: new FormControl('2026-12-01', { nonNullable: true }),
    at: new FormControl('', { nonNullable: true }),
    every: new FormControl<number | null>(2),
    stage: new FormControl<'cleared' | null>(null),
  });
}

describe('in a form', () => {
  test('a control gives and takes the value', async () => {
    const { fixture, loader } = await show(InForm);
    const { form } = fixture.componentInstance;
    await (await loader.getHarness(MatDatepickerInputHarness)).setValue('2 Dec 2026');
    await (await loader.getHarness(MatTimepickerInputHarness)).setValue('0715');
    await (await loader.getHarness(MatSelectHarness)).clickOptions({ text: 'cleared' });
    expect(form.value).toEqual({ name: 'Lock', from: '2026-12-02', at: '07:15', every: 2, stage: 'cleared' });
    expect(form.dirty).toBe(true);
    form.reset();
    await fixture.whenStable();
    expect(await (await loader.getHarness(MatDatepickerInputHarness)).getValue()).toBe('Tue 1 Dec 2026');
  });

  test('what cannot be read makes it invalid', async () => {
    const { fixture, loader } = await show(InForm);
    const { form } = fixture.componentInstance;
    const field = await loader.getHarness(MatDatepickerInputHarness);
    await field.setValue('whenever');
    expect(form.valid).toBe(false);
    await field.setValue('3 Dec 2026');
    expect(form.valid).toBe(true);
  });

  test('its own rules and a server’s refusal are said at the field', async () => {
    const { fixture, loader } = await show(InForm);
    const { name } = fixture.componentInstance.form.controls;
    const field = await loader.getHarness(MatInputHarness.with({ selector: '[type=text]' }));
    await field.setValue('');
    await field.blur();
    const around = await loader.getHarness(MatFormFieldHarness.with({ hasErrors: true }));
    expect(await around.getTextErrors()).toEqual(['This is needed.']);
    await field.setValue('Basin');
    name.setErrors({ server: 'There is such a name already.' });
    expect(await around.getTextErrors()).toEqual(['There is such a name already.']);
    await field.setValue('Basin two');
    expect(await around.hasErrors()).toBe(false);
  });

  test('a control that is off cannot be typed in', async () => {
    const { fixture, loader } = await show(InForm);
    fixture.componentInstance.form.disable();
    expect(await (await loader.getHarness(MatDatepickerInputHarness)).isDisabled()).toBe(true);
    expect(await (await loader.getHarness(MatTimepickerInputHarness)).isDisabled()).toBe(true);
    expect(await (await loader.getHarness(MatSelectHarness)).isDisabled()).toBe(true);
  });
});
