import { DestroyRef, Injectable, inject, signal } from '@angular/core';
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
    inject(Live).whenever(['post', 'blog', 'note'], () => void this.refresh());
    const timer = setInterval(() => void this.refresh(), MINUTE_MS);
    inject(DestroyRef).onDestroy(() => clearInterval(timer));
  }

  async refresh(): Promise<void> {
    const view = await this.api.call('runway.see', {}).catch(() => null);
    if (view) this.view.set(view);
  }
}
