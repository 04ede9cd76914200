import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { ReleaseLogEntry } from '@keyroster/contract';
import { formatClock, formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { ErrorLine } from '../ui/error-line';
import { PageHead } from '../ui/page-head';
import { MatSortModule } from '@angular/material/sort';
import { Sorted } from '../ui/sorted';
import { EmptyState } from '../ui/empty-state';

/** Every release, planned against actual. */
@Component({
  imports: [RouterLink, ErrorLine, PageHead, MatSortModule, EmptyState],
  templateUrl: './release-log.page.html',
  styles: `
    table {
      width: 100%;
      border-collapse: collapse;
      background: var(--sheet);
      border: 1px solid var(--line);
      margin-top: 10px;
    }
    th {
      text-align: left;
      font-weight: 600;
      color: var(--soft);
      border-bottom: 2px solid var(--ink);
      padding: 7px 10px;
    }
    td {
      padding: 6px 10px;
      border-bottom: 1px solid var(--hair);
    }
    td a {
      font: 540 15px/1.25 var(--serif);
      color: var(--ink);
      text-decoration: none;
    }
    .checks {
      color: var(--soft);
    }
    .late {
      color: var(--madder);
      font-weight: 600;
    }
    td:not(:first-child) {
      white-space: nowrap;
    }
    @media (max-width: 700px) {
      th,
      td {
        padding-inline: 5px;
      }
      td:first-child {
        overflow-wrap: anywhere;
      }
      td:not(:first-child) {
        white-space: normal;
      }
      th:nth-child(3),
      td:nth-child(3) {
        display: none;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ReleaseLogPage {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  protected readonly entries = signal<ReleaseLogEntry[] | null>(null);
  protected readonly error = signal('');
  protected readonly sorted = new Sorted<ReleaseLogEntry>(() => this.entries() ?? [], {
    title: (e) => e.title,
    planned: (e) => e.plannedLocal,
    released: (e) => Date.parse(e.releasedAt),
    lateness: (e) => (e.backdated ? null : e.lateness),
  });
  protected readonly say = (local: string) =>
    `${formatShortDate(local, this.session.today())} ${formatClock(local)}`;
  protected readonly local = (at: string) => this.session.local(at);

  constructor() {
    void this.refresh();
    inject(Live).whenever(['release'], () => this.refresh());
  }

  protected after(entry: ReleaseLogEntry): string {
    if (entry.backdated) return 'dated back';
    const s = entry.lateness / 1000;
    const text =
      s < 1
        ? `${entry.lateness} ms`
        : s < 120
          ? `${s.toFixed(1)} s`
          : s < 7200
            ? `${Math.round(s / 60)} min`
            : `${Math.round(s / 3600)} h`;
    return entry.late ? `${text}, late` : text;
  }

  /**
   * What the checks said when it went out. They ask before a post is scheduled; a promised time is kept
   * whatever they say since.
   */
  protected checks({ checks }: ReleaseLogEntry): string {
    if (!checks) return '';
    if (checks.blocks > 0)
      return checks.blocks === 1 ? '1 held it back since' : `${checks.blocks} held it back since`;
    return checks.warns > 0 ? `${checks.warns} warned` : 'fine';
  }

  private async refresh(): Promise<void> {
    try {
      this.entries.set(await this.api.call('releaseLog.list', {}));
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
