import { Injectable, inject } from '@angular/core';
import type { PreloadingStrategy, Route } from '@angular/router';
import { EMPTY, Observable, switchMap } from 'rxjs';
import { SessionService } from './accounts/session.service';

/** Where a browser does not say when it has nothing to do, in ms. */
const LATER_MS = 2000;

/** Emits once when the browser has nothing else to do. */
const idle = new Observable<void>((subscriber) => {
  const done = () => {
    subscriber.next();
    subscriber.complete();
  };
  if (!('requestIdleCallback' in window)) {
    const timer = setTimeout(done, LATER_MS);
    return () => clearTimeout(timer);
  }
  const asked = requestIdleCallback(done);
  return () => cancelIdleCallback(asked);
});

/**
 * Fetches the code of screens that are marked with `preload` for whoever is signed in, once the screen that was
 * asked for stands: a post is opened from everywhere, and its code is the largest.
 */
@Injectable({ providedIn: 'root' })
export class WhenIdle implements PreloadingStrategy {
  private readonly session = inject(SessionService);

  preload(route: Route, load: () => Observable<unknown>): Observable<unknown> {
    return route.data?.['preload'] && this.session.may('enterNewsroom') ? idle.pipe(switchMap(load)) : EMPTY;
  }
}
