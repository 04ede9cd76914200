import { FormControl, type AbstractControl, type ValidatorFn } from '@angular/forms';

/** A control of text, which is empty rather than null. */
export const textControl = (value = '', ...validators: ValidatorFn[]): FormControl<string> =>
  new FormControl(value, { nonNullable: true, validators });

/** Shows its sentence at the field while the value is not valid. */
export const must =
  <T>(isGood: (value: T) => boolean, sentence: string): ValidatorFn =>
  ({ value }: AbstractControl<T>) =>
    isGood(value) ? null : { sentence };

/** Whether a form may be sent; where it may not, each of its fields says now what is wrong with it. */
export function isReady(form: AbstractControl): boolean {
  if (form.invalid) form.markAllAsTouched();
  return !form.invalid;
}
