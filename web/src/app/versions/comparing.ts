import { DestroyRef, Injectable, inject } from '@angular/core';
import type { ComparisonView } from '@keyroster/contract';
import type { ComparedBlock } from '@keyroster/core';
import { Observable, filter, fromEvent, map, take, tap } from 'rxjs';

interface Compared {
  id: number;
  blocks: ComparedBlock[];
}

/** Compares two texts in a worker of its own. */
@Injectable()
export class Comparing {
  private readonly worker = new Worker(new URL('./compare.worker', import.meta.url), { type: 'module' });
  private asked = 0;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.worker.terminate());
  }

  compare({ before, after }: Pick<ComparisonView, 'before' | 'after'>): Observable<ComparedBlock[]> {
    const id = ++this.asked;
    const start = performance.now();
    const answered = fromEvent<MessageEvent<Compared>>(this.worker, 'message').pipe(
      map(({ data }) => data),
      filter((data) => data.id === id),
      take(1),
      map((data) => data.blocks),
      // Timed from here to the answer, for measuring (npm run bench).
      tap(() => performance.measure('compare versions', { start })),
    );
    this.worker.postMessage({ id, before, after });
    return answered;
  }
}
