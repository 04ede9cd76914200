import { Injectable, computed, inject, signal } from '@angular/core';
import { ArchiveService } from './archive.service';

/**
 * The posts that are chosen: some, or everything that matches but a few. They stay chosen while one filters
 * on.
 */
@Injectable()
export class ChosenService {
  private readonly archive = inject(ArchiveService);
  private readonly picked = signal<ReadonlySet<number>>(new Set());
  readonly count = computed(() => this.picked().size);
  readonly some = computed(() => this.picked().size > 0);
  /** Everything that matches is chosen. */
  readonly all = computed(() => {
    const [ids, picked] = [this.archive.ids(), this.picked()];
    return ids.length > 0 && picked.size >= ids.length && ids.every((id) => picked.has(id));
  });
  readonly ids = computed(() => [...this.picked()]);

  has(id: number): boolean {
    return this.picked().has(id);
  }
  toggle(id: number): void {
    this.picked.update((all) => {
      const next = new Set(all);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  }
  /** From one place of the table to another, loaded or not. */
  span(from: number, to: number): void {
    const ids = this.archive.ids().slice(Math.min(from, to), Math.max(from, to) + 1);
    this.picked.update((all) => new Set([...all, ...ids]));
  }
  /** All that match, also those that are still on their way here. */
  async toggleAll(): Promise<void> {
    await this.archive.whole.catch(() => undefined);
    const ids = this.archive.ids();
    this.picked.set(this.all() ? new Set() : new Set([...this.picked(), ...ids]));
  }
  clear(): void {
    this.picked.set(new Set());
  }
}
