import { DestroyRef, inject } from '@angular/core';
import { fromEvent, merge } from 'rxjs';
import { filter } from 'rxjs/operators';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';

/**
 * Watches the window for as long as the caller lives: `online` when the connection is back, `hidden` when the page
 * may go away without another word, `unsaved` to have the browser ask before it does.
 */
export function watchPageEnds(on: { online: () => void; hidden: () => void; unsaved: () => boolean }): void {
  const destroyed = inject(DestroyRef);
  fromEvent(window, 'online').pipe(takeUntilDestroyed(destroyed)).subscribe(on.online);
  merge(fromEvent(document, 'visibilitychange'), fromEvent(window, 'pagehide'))
    .pipe(
      filter(() => document.visibilityState === 'hidden'),
      takeUntilDestroyed(destroyed),
    )
    .subscribe(on.hidden);
  fromEvent<BeforeUnloadEvent>(window, 'beforeunload')
    .pipe(takeUntilDestroyed(destroyed))
    .subscribe((event) => {
      if (on.unsaved()) event.preventDefault();
    });
}
