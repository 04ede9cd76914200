import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import type { BatchView } from '@keyroster/contract';
import { formatClock, formatCount, formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { ArchiveService } from './archive.service';
import { BatchItems } from './batch-items';
import { BatchLogItems } from './batch-log-items.service';
import { BatchService } from './batch.service';
import { ErrorLine } from '../ui/error-line';
import { PageHead } from '../ui/page-head';
import { MatSortModule } from '@angular/material/sort';
import { Sorted } from '../ui/sorted';

/** Every batch: who changed what in how many posts, and when; any of them can be taken back. */
@Component({
  imports: [MatButton, RouterLink, BatchItems, ErrorLine, PageHead, MatSortModule],
  providers: [ArchiveService, BatchService, BatchLogItems],
  templateUrl: './batches.page.html',
  styles: `
    .lead {
      margin: 4px 0 12px;
    }
    .done {
      background: var(--verdigris-wash);
      border-radius: 4px;
      padding: 7px 10px;
      margin-bottom: 10px;
      font-weight: 550;
    }
    .preview {
      border: 1px solid var(--ink);
      border-radius: 4px;
      background: var(--sheet);
      padding: 12px 16px;
      margin-bottom: 14px;
    }
    table {
      width: 100%;
      border-collapse: collapse;
      background: var(--sheet);
      border: 1px solid var(--line);
    }
    th {
      text-align: left;
      font-weight: 600;
      color: var(--soft);
      border-bottom: 2px solid var(--ink);
      padding: 7px 10px;
    }
    td {
      padding: 7px 10px;
      border-bottom: 1px solid var(--hair);
      vertical-align: top;
      overflow-wrap: anywhere;
    }
    td .row {
      justify-content: flex-end;
    }
    .n {
      text-align: right;
    }
    small {
      display: block;
      color: var(--soft);
    }
    .gone td:first-child {
      color: var(--soft);
    }
    .refused {
      color: var(--madder);
    }
    @media (max-width: 700px) {
      table,
      tbody,
      tr,
      td {
        display: block;
      }
      thead {
        display: none;
      }
      tr {
        padding: 6px 0;
        border-bottom: 1px solid var(--line);
      }
      td,
      .n {
        border: 0;
        padding: 2px 10px;
        text-align: left;
      }
      td .row {
        justify-content: flex-start;
      }
      .n::after {
        content: ' posts';
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BatchesPage {
  protected readonly batch = inject(BatchService);
  protected readonly looked = inject(BatchLogItems);
  private readonly session = inject(SessionService);
  private readonly router = inject(Router);
  readonly look = input<string>();
  protected readonly shown = computed(() => Number(this.look() ?? 0));
  protected readonly sorted = new Sorted<BatchView>(() => this.batch.log(), {
    posts: (b) => b.counts.changes,
    by: (b) => b.by.name,
    when: (b) => Date.parse(b.appliedAt ?? b.madeAt),
  });
  protected readonly count = (n: number) => formatCount(n, 'post');
  protected readonly hasSince = computed(() =>
    this.batch.items().some((i) => i.sentence.endsWith('changed since and kept')),
  );
  protected readonly total = ({ counts }: BatchView) =>
    counts.changes + counts.same + counts.refused + counts.left;

  constructor() {
    effect(() => {
      const id = this.shown();
      untracked(() => this.looked.open(id));
    });
  }

  protected go(look: number | null): void {
    void this.router.navigate([], { queryParams: { look } });
  }

  protected when(b: BatchView): string {
    const at = this.session.local(b.appliedAt ?? b.madeAt);
    return `${formatShortDate(at, this.session.today())} ${formatClock(at.slice(0, 16) + ':00')}`;
  }
}
