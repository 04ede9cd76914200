import { Injectable, inject, signal } from '@angular/core';
import { SessionService } from '../accounts/session.service';
import { Api } from '../api/api';
import { Live } from '../api/live';

/** How many comments wait until somebody has read them, for those who moderate. */
@Injectable({ providedIn: 'root' })
export class WaitingComments {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  readonly count = signal(0);

  constructor() {
    void this.refresh();
    inject(Live).whenever(['comment'], () => this.refresh());
  }

  private async refresh(): Promise<void> {
    if (!this.session.may('moderate')) return;
    try {
      const { counts } = await this.api.call('comments.list', { query: { state: 'held' } });
      this.count.set(counts.held);
    } catch {
      // This is a hint only; the page itself reports errors.
    }
  }
}
