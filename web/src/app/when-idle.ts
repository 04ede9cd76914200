import { Injectable, inject } from '@angular/core';
import type { PreloadingStrategy, Route } from '@angular/router';
import { EMPTY, Observable, switchMap, timer } from 'rxjs';
import { SessionService } from './accounts/session.service';

/** A browser that waits for the first screen's data has nothing to do, either: that screen comes first, in ms. */
const LATER_MS = 2000;

/** Emits once when the browser has nothing else to do; at once where it does not say when that is. */
const idle = new Observable<void>((subscriber) => {
  const done = () => {
    subscriber.next();
    subscriber.complete();
  };
  if (!('requestIdleCallback' in window)) return done();
  const asked = requestIdleCallback(done);
  return () => cancelIdleCallback(asked);
});

/**
 * Fetches the code of screens that are marked with `preload` for people who are signed in, once the screen that was
 * asked for stands: a post is opened from everywhere, and its code is the largest.
 */
@Injectable({ providedIn: 'root' })
export class WhenIdle implements PreloadingStrategy {
  private readonly session = inject(SessionService);

  preload(route: Route, load: () => Observable<unknown>): Observable<unknown> {
    return route.data?.['preload'] && this.session.may('enterNewsroom')
      ? timer(LATER_MS).pipe(
          switchMap(() => idle),
          switchMap(load),
        )
      : EMPTY;
  }
}
