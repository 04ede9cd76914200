import { DestroyRef, Injectable, inject, signal } from '@angular/core';
import { inBlog } from './blog-choice';
import { LIVE_KINDS, type LiveEvent } from '@keyroster/contract';
import { Observable, Subject, auditTime, filter, tap, throttle } from 'rxjs';

/** A tab out of sight for so long gives its stream up. */
const HIDDEN_MS = 20_000;
const GATHER_MS = 150;

/**
 * What changed in the newsroom, as the server tells it. Carries no content: a screen that shows something
 * fetches it again.
 */
@Injectable({ providedIn: 'root' })
export class Live {
  private readonly events = new Subject<LiveEvent>();
  private source: EventSource | null = null;
  /** False while the stream is broken; the browser keeps trying. */
  readonly connected = signal(true);

  constructor() {
    // A browser gives a site six connections; a tab that nobody looks at leaves its own to the others, and
    // catches up when it is looked at.
    let timer: ReturnType<typeof setTimeout> | undefined;
    document.addEventListener('visibilitychange', () => {
      clearTimeout(timer);
      if (document.visibilityState === 'hidden') timer = setTimeout(() => this.rest(), HIDDEN_MS);
      else if (this.resting) this.wake();
    });
  }

  private resting = false;

  private rest(): void {
    if (!this.source) return;
    this.close();
    this.resting = true;
  }

  private wake(): void {
    this.resting = false;
    this.open();
    this.anything();
  }

  /** Anything may have changed: everybody fetches again. Nothing is known here of a batch itself. */
  private anything(): void {
    for (const kind of LIVE_KINDS.filter((k) => k !== 'batch'))
      this.events.next({ id: 0, kind, postId: null, version: null, personId: null });
  }

  open(): void {
    if (this.source) return;
    this.source = new EventSource(inBlog('/api/events'));
    this.source.onopen = () => {
      if (!this.connected()) this.anything();
      this.connected.set(true);
    };
    this.source.onerror = () => {
      this.connected.set(false);
      // After an answer that is not a stream the browser gives up; we do not.
      if (this.source?.readyState === EventSource.CLOSED) {
        this.close();
        setTimeout(() => this.open(), 3000);
      }
    };
    this.source.onmessage = (message: MessageEvent<string>) => {
      const event = JSON.parse(message.data) as LiveEvent;
      this.events.next(event);
      // A batch may have changed any number of posts; it is told once.
      if (event.kind === 'batch') this.anything();
    };
  }

  close(): void {
    this.source?.close();
    this.source = null;
    this.resting = false;
  }

  all(): Observable<LiveEvent> {
    return this.events;
  }

  /** As `whenever`, with what changed since the last call. */
  gathered(
    kinds: LiveEvent['kind'][],
    handle: (events: LiveEvent[]) => void,
    destroyed = inject(DestroyRef),
  ): void {
    let events: LiveEvent[] = [];
    const subscription = this.events
      .pipe(
        filter((e) => kinds.includes(e.kind)),
        tap((e) => events.push(e)),
        auditTime(GATHER_MS),
      )
      .subscribe(() => {
        const all = events;
        events = [];
        handle(all);
      });
    destroyed.onDestroy(() => subscription.unsubscribe());
  }

  /**
   * Calls back at most every 150 ms while something of these kinds changes, for as long as the caller lives. What
   * a refresh returns is waited for before the next: two at once could show the older answer last.
   */
  whenever(kinds: LiveEvent['kind'][], refresh: () => unknown, destroyed = inject(DestroyRef)): void {
    const ended = async () => {
      try {
        await refresh();
      } catch {
        // The screen that refreshes reports what went wrong; the next change is still heard.
      }
    };
    const subscription = this.events
      .pipe(
        filter((e) => kinds.includes(e.kind)),
        auditTime(GATHER_MS),
        throttle(ended, { leading: true, trailing: true }),
      )
      .subscribe();
    destroyed.onDestroy(() => subscription.unsubscribe());
  }
}
