import { DestroyRef, Injectable, inject, signal } from '@angular/core';
import type { LiveEvent } from '@keyroster/contract';
import { Observable, Subject, auditTime, filter } from 'rxjs';

/** What changed in the newsroom, as the server tells it. Carries no content: whoever shows something fetches it anew. */
@Injectable({ providedIn: 'root' })
export class Live {
  private readonly events = new Subject<LiveEvent>();
  private source: EventSource | null = null;
  /** False while the stream is broken; the browser keeps trying. */
  readonly connected = signal(true);

  open(): void {
    if (this.source) return;
    this.source = new EventSource('/api/events');
    this.source.onopen = () => {
      // Anything may have changed while the stream was broken.
      if (!this.connected()) this.events.next({ id: 0, kind: 'post', postId: null, version: null, personId: null });
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
    this.source.onmessage = (message: MessageEvent<string>) => this.events.next(JSON.parse(message.data) as LiveEvent);
  }

  close(): void {
    this.source?.close();
    this.source = null;
  }

  all(): Observable<LiveEvent> {
    return this.events;
  }

  /** Calls back at most every 150 ms while something of these kinds changes, for as long as the caller lives. */
  whenever(kinds: LiveEvent['kind'][], refresh: () => void, destroyed = inject(DestroyRef)): void {
    const subscription = this.events.pipe(filter((e) => kinds.includes(e.kind)), auditTime(150)).subscribe(() => refresh());
    destroyed.onDestroy(() => subscription.unsubscribe());
  }
}
