import { Injectable, computed, signal } from '@angular/core';
import { ARCHIVE_TEXTS, type ArchiveSort } from '@keyroster/contract';
import { fieldHeading } from '@keyroster/core';

export interface TableColumn {
  key: ArchiveSort;
  name: string;
  /** In pixels; the title takes what is left. */
  width: number;
  shown: boolean;
}

/** The columns a table can have, in the order they first stand in. */
const COLUMNS: readonly TableColumn[] = [
  { key: 'byline', name: 'Byline', width: 140, shown: true },
  { key: 'category', name: 'Category', width: 130, shown: true },
  { key: 'run', name: 'Run time', width: 140, shown: true },
  { key: 'words', name: 'Words', width: 66, shown: true },
  { key: 'stage', name: 'Stage', width: 162, shown: true },
  { key: 'tags', name: 'Tags', width: 160, shown: false },
  { key: 'slug', name: 'Web address', width: 180, shown: false },
  { key: 'format', name: 'Format', width: 110, shown: false },
  { key: 'access', name: 'Access', width: 90, shown: false },
  { key: 'comments', name: 'Comments', width: 90, shown: false },
  { key: 'checks', name: 'Checks', width: 90, shown: false },
  { key: 'changed', name: 'Changed', width: 130, shown: false },
  { key: 'made', name: 'Created', width: 130, shown: false },
  ...ARCHIVE_TEXTS.map((key) => ({ key, name: fieldHeading(key), width: 130, shown: false })),
];
export const [NARROWEST, WIDEST] = [56, 420];
const KEY = 'key-roster.archive';

interface Remembered {
  columns?: { key: string; width: number; shown: boolean }[];
  dense?: boolean;
  excerpts?: boolean;
}

/**
 * How this person likes the table: columns, their order and widths, dense or roomy, with or without excerpts;
 * remembered on this device.
 */
@Injectable({ providedIn: 'root' })
export class TablePreferences {
  private readonly kept = signal<Remembered>(read());
  readonly columns = computed<TableColumn[]>(() => {
    const kept = this.kept().columns ?? [];
    const known = kept.flatMap((k) => {
      const c = COLUMNS.find((x) => x.key === k.key);
      return c ? [{ ...c, width: Math.min(WIDEST, Math.max(NARROWEST, k.width)), shown: k.shown }] : [];
    });
    return [...known, ...COLUMNS.filter((c) => !known.some((k) => k.key === c.key))];
  });
  readonly shown = computed(() => this.columns().filter((c) => c.shown));
  readonly dense = computed(() => this.kept().dense ?? false);
  readonly excerpts = computed(() => this.kept().excerpts ?? false);

  change(key: ArchiveSort, part: Partial<Pick<TableColumn, 'width' | 'shown'>>): void {
    this.keep(this.columns().map((c) => (c.key === key ? { ...c, ...part } : c)));
  }

  /** Puts a column so many places further on. */
  move(key: ArchiveSort, by: number): void {
    const columns = [...this.columns()];
    const from = columns.findIndex((c) => c.key === key);
    const [column] = columns.splice(from, 1);
    columns.splice(Math.max(0, Math.min(columns.length, from + by)), 0, column!);
    this.keep(columns);
  }

  asFirst(): void {
    this.remember({ columns: undefined });
  }

  remember(part: Remembered): void {
    this.kept.update((kept) => ({ ...kept, ...part }));
    localStorage.setItem(KEY, JSON.stringify(this.kept()));
  }

  private keep(columns: TableColumn[]): void {
    this.remember({
      columns: columns.map(({ key, width, shown }) => ({
        key,
        width: Math.min(WIDEST, Math.max(NARROWEST, Math.round(width))),
        shown,
      })),
    });
  }
}

function read(): Remembered {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEY) ?? '{}');
    return typeof kept === 'object' && kept !== null ? kept : {};
  } catch {
    return {};
  }
}
