import { HttpResponse, type HttpInterceptorFn } from '@angular/common/http';
import { Injectable, inject } from '@angular/core';
import { tap } from 'rxjs';

/** Clocks that differ by less are taken for alike: an answer tells the time to the second, and takes a while. */
const ALIKE_MS = 10_000;

/** The time by the server's clock, however the clock of this device goes. */
@Injectable({ providedIn: 'root' })
export class Clock {
  /** By how much the server's clock is ahead of the one here, in ms. */
  private ahead = 0;

  /** Takes the time that an answer tells (RFC 9110, section 6.6.1). */
  learn(date: string | null): void {
    const served = Date.parse(date ?? '');
    if (Number.isNaN(served)) return;
    const ahead = served - Date.now();
    this.ahead = Math.abs(ahead) < ALIKE_MS ? 0 : ahead;
  }

  now(): Date {
    return new Date(Date.now() + this.ahead);
  }
}

export const clockInterceptor: HttpInterceptorFn = (request, next) => {
  const clock = inject(Clock);
  return next(request).pipe(
    tap((event) => {
      if (event instanceof HttpResponse) clock.learn(event.headers.get('date'));
    }),
  );
};
