import { Injectable, inject, signal } from '@angular/core';
import type { BatchItemView } from '@keyroster/contract';
import { EMPTY, Subject, catchError, exhaustMap, switchMap } from 'rxjs';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Api } from '../api/api';

const PAGE = 100;

/** What a past batch did, a page at a time. */
@Injectable()
export class BatchLogItems {
  private readonly api = inject(Api);
  private readonly opened = new Subject<number>();
  private readonly wanted = new Subject<void>();
  readonly items = signal<BatchItemView[]>([]);

  constructor() {
    this.opened
      .pipe(
        // Another batch calls off what is asked of this one; a page is asked for once, however often it is wanted.
        switchMap((id) => (id > 0 ? this.wanted.pipe(exhaustMap(() => this.page(id))) : EMPTY)),
        takeUntilDestroyed(),
      )
      .subscribe((more) => this.items.update((all) => [...all, ...more]));
  }

  open(id: number): void {
    this.items.set([]);
    this.opened.next(id);
    this.more();
  }

  more(): void {
    this.wanted.next();
  }

  private page(id: number) {
    const query = { from: this.items().length, limit: PAGE };
    return this.api.request('batches.items', { id, query }).pipe(catchError(() => EMPTY));
  }
}
