import { CdkFixedSizeVirtualScroll, CdkVirtualForOf, CdkVirtualScrollViewport } from '@angular/cdk/scrolling';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import { RouterLink } from '@angular/router';
import {
  ARCHIVE_TEXTS,
  type ArchiveOrder,
  type ArchiveRow,
  type ArchiveSort,
  type ArchiveText,
} from '@keyroster/contract';
import { ACCESS_NAMES, formatClock, formatShortDate, type FilterToken } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { BittingMark } from '../ui/bitting-mark';
import { ArchiveService } from './archive.service';
import { ChosenService } from './chosen.service';
import { NARROWEST, TablePreferences, type TableColumn } from './table-preferences.service';

/** Rows fetched beyond what is on screen, so that scrolling finds them there. */
const AHEAD = 20;

/**
 * All posts that match, drawn as far as they are on screen. One row has the cursor; the keys work from there.
 */
@Component({
  selector: 'kr-archive-table',
  imports: [
    MatCheckbox,
    RouterLink,
    CdkVirtualScrollViewport,
    CdkVirtualForOf,
    CdkFixedSizeVirtualScroll,
    BittingMark,
  ],
  templateUrl: './archive-table.html',
  styleUrl: './archive-table.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ArchiveTable {
  protected readonly archive = inject(ArchiveService);
  protected readonly chosen = inject(ChosenService);
  protected readonly taste = inject(TablePreferences);
  private readonly session = inject(SessionService);
  readonly opened = input<number | null>(null);
  readonly choosing = input(false);
  readonly shown = output<number>();
  readonly sortAsked = output<ArchiveOrder>();
  readonly tokenAsked = output<FilterToken>();
  private readonly viewport = viewChild.required(CdkVirtualScrollViewport);
  readonly cursor = signal(0);
  private anchor = 0;
  protected readonly itself = (_: number, id: number) => id;
  protected readonly height = computed(
    () => (this.taste.dense() ? 30 : 38) + (this.taste.excerpts() || this.archive.filter().words ? 18 : 0),
  );
  protected readonly tracks = computed(
    () =>
      `${this.choosing() ? '34px ' : ''}minmax(240px, 1fr) ${this.taste
        .shown()
        .map((c) => `minmax(${NARROWEST}px, ${c.width}px)`)
        .join(' ')}`,
  );
  /** Narrower than this the table scrolls sideways rather than squeeze its columns to nothing. */
  protected readonly min = computed(
    () => 274 + this.taste.shown().reduce((sum, c) => sum + Math.min(c.width, 110), 0),
  );
  protected readonly cursorId = computed(() => {
    const id = this.archive.ids()[this.cursor()];
    return id === undefined ? null : `row-${id}`;
  });
  protected readonly row = (id: number) => this.archive.rows().get(id);

  constructor() {
    // Another filter begins at its top.
    effect(() => {
      this.archive.found();
      untracked(() => {
        this.cursor.set(0);
        this.viewport().scrollToIndex(0);
      });
    });
    effect(() => {
      this.archive.ids();
      this.archive.rows();
      this.height();
      untracked(() => this.scrolled());
    });
    effect(() => {
      this.height();
      untracked(() => setTimeout(() => this.viewport().checkViewportSize()));
    });
  }

  protected category(id: number | null): string | null {
    return id === null ? null : (this.session.categories().get(id)?.name ?? null);
  }

  protected day(local: string): string {
    return `${formatShortDate(local, this.session.today())} ${formatClock(local)}`;
  }

  protected plain(r: ArchiveRow, key: ArchiveSort): string | number {
    switch (key) {
      case 'words':
        return r.words || '';
      case 'slug':
        return r.slug ? `/${r.slug}` : '';
      case 'access':
        return ACCESS_NAMES[r.access];
      case 'comments':
        return r.comments ? 'open' : 'closed';
      case 'changed':
        return this.day(r.updatedAt);
      case 'made':
        return this.day(r.createdAt);
      case 'format':
        return this.archive.formats().find((f) => f.id === r.formatId)?.name ?? '';
      default:
        return ARCHIVE_TEXTS.some((f) => f === key) ? r[key as ArchiveText] : '';
    }
  }

  protected place(id: number) {
    const place = this.archive.places().get(id);
    return this.archive.filter().words && place && place.marks.length > 0 ? place : null;
  }

  /** The text around what was found, with what was found apart. */
  protected pieces({
    text,
    marks,
  }: {
    text: string;
    marks: [number, number][];
  }): { text: string; hit: boolean }[] {
    const out: { text: string; hit: boolean }[] = [];
    let at = 0;
    for (const [from, to] of marks) {
      out.push({ text: text.slice(at, from), hit: false }, { text: text.slice(from, to), hit: true });
      at = to;
    }
    return [...out, { text: text.slice(at), hit: false }].filter((p) => p.text !== '');
  }

  protected sorted(key: ArchiveSort): 'ascending' | 'descending' | 'none' {
    return this.archive.sort() === key
      ? 'ascending'
      : this.archive.sort() === `-${key}`
        ? 'descending'
        : 'none';
  }
  protected arrow(key: ArchiveSort): string {
    return { ascending: ' ↑', descending: ' ↓', none: '' }[this.sorted(key)];
  }
  protected sortBy(key: ArchiveSort): void {
    const newestFirst =
      key === 'run' || key === 'words' || key === 'changed' || key === 'made' || key === 'checks';
    const now = this.sorted(key);
    this.sortAsked.emit(
      now === 'none' ? (newestFirst ? `-${key}` : key) : now === 'ascending' ? `-${key}` : key,
    );
  }

  protected filterBy(event: Event, key: FilterToken['key'], value: string): void {
    event.stopPropagation();
    this.tokenAsked.emit({ key, value, not: false });
  }

  /** Told by the scrolling itself, so that rows are on their way while their places are still being drawn. */
  protected scrolled(): void {
    const ids = this.archive.ids();
    const from = Math.floor(this.viewport().measureScrollOffset() / this.height());
    const to = from + Math.ceil(this.viewport().getViewportSize() / this.height()) + 1;
    const shown = ids.slice(from, to);
    void this.archive.want(
      [...shown, ...ids.slice(to, to + AHEAD), ...ids.slice(Math.max(0, from - AHEAD), from)],
      shown,
    );
  }

  protected press(event: MouseEvent, index: number): void {
    if (event.shiftKey && this.choosing()) this.chosen.span(this.anchor, index);
    else this.anchor = index;
    this.cursor.set(index);
  }
  protected tick(event: MouseEvent, index: number): void {
    event.stopPropagation();
    if (event.shiftKey) this.chosen.span(this.anchor, index);
    else this.chosen.toggle(this.archive.ids()[index]!);
    this.anchor = index;
    this.cursor.set(index);
  }

  protected chooseAll(): void {
    void this.chosen.toggleAll();
  }

  protected key(event: KeyboardEvent): void {
    // On the link of a row, Enter leads where the link leads.
    const onRow = event.target !== event.currentTarget;
    const last = this.archive.ids().length - 1;
    const page = Math.max(1, Math.floor(this.viewport().getViewportSize() / this.height()) - 1);
    const to = {
      ArrowDown: this.cursor() + 1,
      ArrowUp: this.cursor() - 1,
      PageDown: this.cursor() + page,
      PageUp: this.cursor() - page,
      Home: 0,
      End: last,
    }[event.key];
    const id = this.archive.ids()[this.cursor()];
    if (to !== undefined) {
      event.preventDefault();
      this.go(to);
      if (event.shiftKey && this.choosing()) this.chosen.span(this.anchor, this.cursor());
      else this.anchor = this.cursor();
    } else if (event.key === ' ' && !onRow && this.choosing() && id !== undefined) {
      event.preventDefault();
      this.chosen.toggle(id);
      this.anchor = this.cursor();
    } else if (event.key === 'a' && (event.ctrlKey || event.metaKey) && this.choosing()) {
      event.preventDefault();
      this.chooseAll();
    } else if (event.key === 'Enter' && !onRow && id !== undefined && this.row(id)?.binnedAt === null) {
      event.preventDefault();
      this.shown.emit(id);
    }
  }

  /** Puts the cursor on a row and the row on screen. */
  go(index: number): void {
    const at = Math.max(0, Math.min(this.archive.ids().length - 1, index));
    this.cursor.set(at);
    const [from, size, height] = [
      this.viewport().measureScrollOffset(),
      this.viewport().getViewportSize(),
      this.height(),
    ];
    if (at * height < from) this.viewport().scrollToOffset(at * height);
    else if ((at + 1) * height > from + size) this.viewport().scrollToOffset((at + 1) * height - size);
  }

  focus(): void {
    document.querySelector<HTMLElement>('kr-archive-table [role=grid]')?.focus();
  }

  protected resize(event: PointerEvent, column: TableColumn): void {
    event.preventDefault();
    const grip = event.target as HTMLElement;
    grip.setPointerCapture(event.pointerId);
    const move = (e: PointerEvent) =>
      this.taste.change(column.key, { width: Math.max(NARROWEST, column.width + e.clientX - event.clientX) });
    grip.addEventListener('pointermove', move);
    grip.addEventListener('pointerup', () => grip.removeEventListener('pointermove', move), { once: true });
  }
}
