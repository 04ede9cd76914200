import { Injectable, inject, signal } from '@angular/core';
import type { BatchItemView } from '@keyroster/contract';
import { Api } from '../api/api';

const PAGE = 100;

/** What a past batch did, a page at a time. */
@Injectable()
export class BatchLogItems {
  private readonly api = inject(Api);
  readonly items = signal<BatchItemView[]>([]);

  async open(id: number): Promise<void> {
    this.items.set([]);
    if (id > 0) await this.more(id);
  }

  async more(id: number): Promise<void> {
    const more = await this.api
      .call('batches.items', { id, query: { from: this.items().length, limit: PAGE } })
      .catch(() => []);
    this.items.update((all) => [...all, ...more]);
  }
}
