import type { FormGroup } from '@angular/forms';
import { ApiError, sentenceOf } from './api';

/**
 * Puts a server's refusal on the controls of the fields that it names, so that each says what is wrong with it. Gives
 * the sentence that is left for the form as a whole, empty when every fault has found its field.
 */
export function landRefusal(form: FormGroup, error: unknown): string {
  const faults = error instanceof ApiError ? (error.problem?.fields ?? []) : [];
  const landed = faults.filter(({ field, sentence }) => {
    const control = form.get(field);
    control?.setErrors({ server: sentence });
    control?.markAsTouched();
    return control !== null;
  });
  return faults.length > 0 && landed.length === faults.length ? '' : sentenceOf(error);
}
