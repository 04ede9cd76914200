import { FormControl, type AbstractControl, type ValidatorFn } from '@angular/forms';

/** A control of text, which is empty rather than null. */
export const textControl = (value = '', ...validators: ValidatorFn[]): FormControl<string> =>
  new FormControl(value, { nonNullable: true, validators });

/** Says its sentence at the field while what stands there is not as it must be. */
export const must =
  <T>(isGood: (value: T) => boolean, sentence: string): ValidatorFn =>
  ({ value }: AbstractControl<T>) =>
    isGood(value) ? null : { sentence };

/** Whether a form may be sent; where it may not, each of its fields says now what is wrong with it. */
export function isReady(form: AbstractControl): boolean {
  if (form.invalid) form.markAllAsTouched();
  return !form.invalid;
}
