import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatMenuModule } from '@angular/material/menu';
import { Router, RouterLink } from '@angular/router';
import { ARCHIVE_SORTS, type ArchiveOrder, type KeptFilter } from '@keyroster/contract';
import { STAGES, formatCount, type FilterToken, type Stage } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { sentenceOf } from '../api/api';
import { promptLine } from '../ui/prompt-line';
import { Messages } from '../ui/messages.service';
import { ArchiveService } from './archive.service';
import { ArchiveTable } from './archive-table';
import { BatchPanel } from './batch-panel';
import { BatchService } from './batch.service';
import { BinBar } from './bin-bar';
import { ChosenService } from './chosen.service';
import { ColumnsPanel } from './columns-panel';
import { FilterLine } from './filter-line';
import { RowDetails } from './row-details';
import { ErrorLine } from '../ui/error-line';
import { EmptyState } from '../ui/empty-state';
import { inBlog } from '../api/blog-choice';
import { MatDivider } from '@angular/material/divider';

/** All posts in every stage: found, looked into, changed one by one in place or many at once. */
@Component({
  imports: [
    MatButton,
    RouterLink,
    MatMenuModule,
    FilterLine,
    ArchiveTable,
    BatchPanel,
    BinBar,
    ColumnsPanel,
    RowDetails,
    ErrorLine,
    EmptyState,
    MatDivider,
  ],
  providers: [ArchiveService, ChosenService, BatchService],
  templateUrl: './archive.page.html',
  styleUrl: './archive.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(keydown.escape)': 'escape()' },
})
export class ArchivePage {
  protected readonly archive = inject(ArchiveService);
  protected readonly chosen = inject(ChosenService);
  protected readonly batch = inject(BatchService);
  protected readonly session = inject(SessionService);
  private readonly router = inject(Router);
  private readonly dialogs = inject(MatDialog);
  private readonly messages = inject(Messages);
  readonly line = input<string>();
  readonly sort = input<string>();
  readonly open = input<string>();
  readonly panel = input<string>();
  protected readonly columns = signal(false);
  private readonly table = viewChild.required(ArchiveTable);
  protected readonly stages = STAGES;
  protected readonly opened = computed(() =>
    /^\d{1,9}$/.test(this.open() ?? '') ? Number(this.open()) : null,
  );
  protected readonly inBin = computed(() =>
    this.archive.filter().tokens.some((t) => t.key === 'in' && !t.not && t.value.toLowerCase() === 'bin'),
  );
  protected readonly mayChange = computed(() => this.session.may('changeMany'));
  protected readonly changing = computed(
    () => this.panel() === 'change' && this.mayChange() && !this.inBin() && this.opened() === null,
  );
  protected readonly today = computed(() => this.session.today());
  protected readonly whole = computed(() => formatCount(this.archive.counts()?.total ?? 0, 'post'));
  protected readonly csv = computed(() =>
    inBlog(
      `/api/archive.csv?${new URLSearchParams({ line: this.archive.line(), sort: this.archive.sort() }).toString()}`,
    ),
  );

  constructor() {
    effect(() => {
      const order = this.sort() ?? '-run';
      const sort = (
        ARCHIVE_SORTS.some((s) => s === order.replace(/^-/, '')) ? order : '-run'
      ) as ArchiveOrder;
      const line = (this.line() ?? '').slice(0, 1000);
      untracked(() => void this.archive.find(line, sort));
    });
    // People select posts to change them.
    effect(() => {
      if (this.chosen.some() && !this.inBin())
        untracked(() => {
          if (this.panel() !== 'change') this.go({ panel: 'change', open: null });
        });
    });
    effect(() => {
      this.inBin();
      untracked(() => this.chosen.clear());
    });
  }

  protected go(params: Record<string, string | number | null>): void {
    void this.router.navigate([], { queryParams: params, queryParamsHandling: 'merge' });
  }

  protected find(line: string): void {
    this.go({ line: line || null });
  }
  protected filterBy(token: FilterToken): void {
    this.find(this.archive.lineWith(token));
  }
  protected count(stage: Stage): number {
    return this.archive.counts()?.stages[stage] ?? 0;
  }
  protected has(stage: Stage): boolean {
    return this.archive
      .filter()
      .tokens.some((t) => t.key === 'stage' && !t.not && t.value.toLowerCase() === stage);
  }

  protected step(by: 1 | -1): void {
    const ids = this.archive.ids();
    const at = ids.indexOf(this.opened() ?? -1);
    const next = ids[at + by];
    if (at < 0 || next === undefined) return;
    this.table().go(at + by);
    this.go({ open: next });
  }

  protected closeDetails(): void {
    this.go({ open: null });
    this.table().focus();
  }
  protected closeBatch(): void {
    // What is chosen stays; “Clear selection” is beside the count.
    this.batch.dismiss();
    this.go({ panel: null });
    this.table().focus();
  }
  protected escape(): void {
    if (this.columns()) this.columns.set(false);
    else if (this.opened() !== null) this.closeDetails();
    else if (this.chosen.some()) this.chosen.clear();
  }

  protected async keep(shared: boolean): Promise<void> {
    const name = await promptLine(this.dialogs, {
      about: shared ? 'Save this filter for everybody' : 'Save this filter',
      label: 'Name',
      value: '',
      max: 80,
      done: 'Save',
      hint: shared ? 'The whole newsroom finds it under “Saved filters”.' : 'Only you see it.',
    });
    if (!name) return;
    await this.archive
      .saveFilter(name, shared)
      .then(() => this.messages.done(`“${name}” is saved.`))
      .catch((error: unknown) => this.messages.done(sentenceOf(error)));
  }
  protected use(filter: KeptFilter): void {
    this.go({ line: filter.line || null, sort: filter.sort || null, open: null });
  }
  protected async drop(filter: KeptFilter): Promise<void> {
    await this.archive
      .dropFilter(filter.id)
      .then(() => this.messages.done(`“${filter.name}” is deleted.`))
      .catch((error: unknown) => this.messages.done(sentenceOf(error)));
  }
  protected mayDrop(filter: KeptFilter): boolean {
    return filter.by.id === this.session.me()?.id || this.session.me()?.role === 'managing editor';
  }
}
