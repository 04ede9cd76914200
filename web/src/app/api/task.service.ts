import { Injectable, computed, inject, signal } from '@angular/core';
import type { RouteName, ReplyOf, TaskView } from '@keyroster/contract';
import { formatCount } from '@keyroster/core';
import { Subject, catchError, of, switchMap, takeUntil, timer, type Observable } from 'rxjs';
import { Api, type CallInput } from './api';

const FIRST_MS = 500;
const PAUSE_MS = 700;

/** Calls that take their time: says how far they are, and lets them be cancelled. */
@Injectable()
export class TaskService {
  private readonly api = inject(Api);
  private readonly seen = signal<TaskView | null>(null);
  private readonly busy = signal(false);
  /** The call that runs, in words; null while none does. */
  readonly running = computed(() => {
    if (!this.busy()) return null;
    const { place, done, total } = this.seen() ?? { place: 0, done: 0, total: 0 };
    const sentence =
      place > 0
        ? `Waiting: ${formatCount(place, 'file')} before yours.`
        : total > 0
          ? `${done.toLocaleString('en')} of ${total.toLocaleString('en')} lines read.`
          : 'Reading the file …';
    return { sentence, done, total };
  });

  /** Runs a call that takes a task key; null when `cancelled` said so before its answer came. */
  async run<K extends RouteName>(
    cancelled: Observable<unknown>,
    name: K,
    input: CallInput<K>,
  ): Promise<ReplyOf<K> | null> {
    const key = crypto.randomUUID();
    const ended = new Subject<void>();
    this.seen.set(null);
    this.busy.set(true);
    timer(FIRST_MS, PAUSE_MS)
      .pipe(
        switchMap(() => this.api.request('tasks.see', { query: { key } }).pipe(catchError(() => of(null)))),
        takeUntil(ended),
      )
      .subscribe((answer) => {
        if (answer?.task) this.seen.set(answer.task);
      });
    try {
      return await this.api.until(cancelled, name, { ...input, query: { task: key } } as CallInput<K>);
    } finally {
      ended.next();
      this.busy.set(false);
    }
  }
}
