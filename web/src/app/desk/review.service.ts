import { Injectable, inject, signal } from '@angular/core';
import type { ReviewItem } from '@keyroster/contract';
import { Api } from '../api/api';
import { Live } from '../api/live';

/** What waits for the person who is signed in to read it, in the order to read it. */
@Injectable()
export class ReviewService {
  private readonly api = inject(Api);
  readonly items = signal<readonly ReviewItem[]>([]);

  constructor() {
    void this.refresh();
    inject(Live).whenever(['post', 'note', 'batch'], () => this.refresh());
  }

  /** The first one beside a post that was just decided. */
  next(beside: number | undefined): ReviewItem | undefined {
    return this.items().find((item) => item.postId !== beside);
  }

  private async refresh(): Promise<void> {
    const found = await this.api.call('review.list', {}).catch(() => null);
    if (found) this.items.set(found.items);
  }
}
