import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Subject, debounceTime } from 'rxjs';

/**
 * Has `act` done with what was told last, when nothing more was told for `quiet` milliseconds, and never after the
 * part that it belongs to is gone. Called where a part is made.
 */
export function later<T>(quiet: number, act: (last: T) => void): (value: T) => void {
  const values = new Subject<T>();
  values.pipe(debounceTime(quiet), takeUntilDestroyed()).subscribe(act);
  return (value) => values.next(value);
}
