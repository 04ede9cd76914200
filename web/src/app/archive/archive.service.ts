import { Injectable, computed, inject, signal } from '@angular/core';
import type {
  ArchiveCounts,
  ArchiveNames,
  ArchiveOrder,
  ArchiveRow,
  FormatView,
  FoundPlace,
  KeptFilter,
} from '@keyroster/contract';
import { parseFilter, writeFilter, writeToken, type Filter, type FilterToken } from '@keyroster/core';
import { Subject } from 'rxjs';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';

/**
 * Rows fetched in one go: a screen of them, since those around it can wait; and how many are kept before the
 * farthest are let go.
 */
const WINDOW = 24;
const MAX_ROWS = 3000;
const FIRST_ROWS = 60;
const NO_COUNTS: ArchiveCounts = { total: 0, stages: {}, bin: 0 };

/**
 * The table's state: all ids that match, in order, and the rows around what is on screen. The ids are few
 * bytes each, so the table knows where everything is, and any span or all of it can be chosen, loaded or not.
 */
@Injectable()
export class ArchiveService {
  private readonly api = inject(Api);
  readonly line = signal('');
  readonly sort = signal<ArchiveOrder>('-run');
  readonly filter = computed<Filter>(() => parseFilter(this.line()));
  readonly ids = signal<readonly number[]>([]);
  readonly rows = signal<ReadonlyMap<number, ArchiveRow>>(new Map());
  readonly places = signal<ReadonlyMap<number, FoundPlace>>(new Map());
  readonly counts = signal<ArchiveCounts | null>(null);
  readonly names = signal<ArchiveNames>({ filter: {}, people: [], tags: [] });
  readonly formats = signal<FormatView[]>([]);
  readonly kept = signal<KeptFilter[]>([]);
  readonly error = signal('');
  /** The filter that the ids are of; null while the first answer is awaited. */
  readonly found = signal<string | null>(null);
  /** Something changed on the server since the ids were fetched. */
  readonly moved = signal(false);
  /** Settles when the ids of all that match are here, and not only those of the first rows. */
  whole: Promise<unknown> = Promise.resolve();
  /** Another filter or order is asked for: what was on its way for the one before is called off. */
  private readonly left = new Subject<void>();
  private wanted = new Set<number>();
  private fetching = false;

  constructor() {
    void this.learnNames();
    void this.api.call('filters.list', {}).then(
      (kept) => this.kept.set(kept),
      () => undefined,
    );
    inject(Live).gathered(['post', 'batch', 'blog', 'people'], (events) => {
      if (events.some((e) => e.kind === 'blog' || e.kind === 'people')) void this.learnNames();
      if (!events.some((e) => e.kind === 'post' || e.kind === 'batch')) return;
      const all = events.some((e) => e.kind === 'batch' || e.postId === null);
      void this.again([...this.rows().keys()].filter((id) => all || events.some((e) => e.postId === id)));
      void this.count();
      if (all || events.some((e) => e.postId !== null && !this.rows().has(e.postId))) this.moved.set(true);
    });
  }

  /** Searches again. The first rows come at once, the order of all of them right after. */
  async find(line: string, sort: ArchiveOrder): Promise<void> {
    this.left.next();
    this.line.set(line);
    this.sort.set(sort);
    this.moved.set(false);
    const query = { line, sort };
    void this.count();
    try {
      const ids = this.api.until(this.left, 'archive.ids', { query });
      const first = this.api.until(this.left, 'archive.rows', { query: { ...query, limit: FIRST_ROWS } });
      // After the first rows, whichever answer comes first.
      this.whole = Promise.all([ids, first]).then(([all]) => {
        if (all) this.ids.set(all.ids);
        return all !== null;
      });
      this.whole.catch(() => undefined);
      const answer = await first;
      if (!answer) return;
      const { rows } = answer;
      this.rows.set(new Map(rows.map((r) => [r.id, r])));
      this.places.set(new Map());
      this.ids.set(rows.map((r) => r.id));
      this.found.set(`${line}\n${sort}`);
      this.error.set('');
      if ((await this.whole) && this.filter().words)
        void this.want(
          [],
          rows.slice(0, 25).map((r) => r.id),
        );
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  /**
   * Has these rows fetched if they are not here, the first first; with words also where they were found in
   * the `shown` ones. What was wanted before and is not here yet is let go: one has scrolled on.
   */
  async want(ids: readonly number[], shown: readonly number[] = []): Promise<void> {
    const words = this.filter().words;
    this.wanted = new Set([
      ...ids.filter((id) => !this.rows().has(id)),
      ...(words ? shown.filter((id) => !this.places().has(id)) : []),
    ]);
    if (this.fetching) return;
    this.fetching = true;
    try {
      while (this.wanted.size > 0) {
        const batch = [...this.wanted].slice(0, WINDOW);
        for (const id of batch) this.wanted.delete(id);
        const picked = await this.api.until(this.left, 'archive.pick', {
          query: { ids: batch, ...(words ? { words } : {}) },
        });
        if (!picked) continue;
        this.receive(picked.rows);
        if (words)
          this.places.update((all) => {
            const next = new Map(all);
            for (const id of batch)
              next.set(id, picked.places.find((p) => p.postId === id) ?? { postId: id, text: '', marks: [] });
            return next;
          });
      }
    } catch (error) {
      this.error.set(sentenceOf(error));
    } finally {
      this.fetching = false;
    }
  }

  async saveFilter(name: string, shared: boolean): Promise<void> {
    this.kept.set(
      await this.api.call('filters.add', { body: { name, shared, line: this.line(), sort: this.sort() } }),
    );
  }
  async dropFilter(id: number): Promise<void> {
    this.kept.set(await this.api.call('filters.remove', { id }));
  }

  /** The line with another token, or without it when it was there. */
  lineWith(token: FilterToken): string {
    const { tokens, words } = this.filter();
    const typed = writeToken(token);
    const rest = tokens.filter((t) => writeToken(t) !== typed);
    return writeFilter({ words, tokens: rest.length < tokens.length ? rest : [...tokens, token] });
  }

  private receive(rows: readonly ArchiveRow[]): void {
    this.rows.update((all) => {
      const next = new Map(all);
      for (const row of rows) {
        next.delete(row.id);
        next.set(row.id, row);
      }
      for (const id of next.keys()) {
        if (next.size <= MAX_ROWS) break;
        next.delete(id);
      }
      return next;
    });
  }

  private async again(ids: readonly number[]): Promise<void> {
    for (let at = 0; at < Math.min(ids.length, 200); at += 100) {
      const picked = await this.api
        .call('archive.pick', { query: { ids: ids.slice(at, at + 100) } })
        .catch(() => null);
      if (picked) this.receive(picked.rows);
    }
    // Farther rows are fetched when they come on screen.
    if (ids.length > 200)
      this.rows.update((all) => {
        const next = new Map(all);
        for (const id of ids.slice(200)) next.delete(id);
        return next;
      });
  }

  private async count(): Promise<void> {
    const line = this.line();
    const counts = await this.api.call('archive.counts', { query: { line } }).catch(() => NO_COUNTS);
    if (line === this.line()) this.counts.set(counts);
  }

  private async learnNames(): Promise<void> {
    this.names.set(await this.api.call('archive.names', {}).catch(() => this.names()));
    this.formats.set(await this.api.call('formats.list', {}).catch(() => this.formats()));
  }
}
