import { Injectable, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { interval } from 'rxjs';
import type { RunwayView } from '@keyroster/contract';
import { Api } from '../api/api';
import { Live } from '../api/live';

const MINUTE_MS = 60_000;

/** How far the calendar is covered; on every newsroom screen. */
@Injectable({ providedIn: 'root' })
export class RunwayService {
  private readonly api = inject(Api);
  readonly view = signal<RunwayView | null>(null);

  constructor() {
    inject(Live).whenever(['post', 'blog', 'note'], () => this.refresh());
    // What is covered changes with the clock alone.
    interval(MINUTE_MS)
      .pipe(takeUntilDestroyed())
      .subscribe(() => void this.refresh());
  }

  async refresh(): Promise<void> {
    const view = await this.api.call('runway.see', {}).catch(() => null);
    if (view) this.view.set(view);
  }
}
