import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { LoadView } from '@keyroster/contract';
import { formatCount, formatLeadTime, formatShortDate, type WeekLoad } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { Chart } from '../ui/chart';
import { ErrorLine } from '../ui/error-line';
import { PageHead } from '../ui/page-head';
import { PersonBadge } from '../ui/person-badge';
import { drawLoad } from './load-chart';

/** What everybody has by week against what fits, who is away, and how quick they are. */
@Component({
  imports: [RouterLink, Chart, ErrorLine, PageHead, PersonBadge],
  templateUrl: './load.page.html',
  styleUrl: '../planner/side-page.scss',
  styles: `
    kr-chart {
      background: var(--sheet);
      border: 1px solid var(--line);
      border-radius: 4px;
      padding: 8px;
      margin-bottom: 16px;
    }
    .weeks {
      overflow-x: auto;
    }
    td small {
      display: block;
      color: var(--soft);
    }
    .over {
      color: var(--brass);
      font-weight: 700;
    }
    td:last-child {
      text-align: left;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LoadPage {
  private readonly api = inject(Api);
  protected readonly session = inject(SessionService);
  protected readonly view = signal<LoadView | null>(null);
  protected readonly error = signal('');
  protected readonly lead = formatLeadTime;
  protected readonly short = (date: string) => formatShortDate(date, this.view()?.today).replace(/^\w+ /, '');
  protected readonly draw = computed(() => {
    const view = this.view();
    return view && ((at: HTMLElement) => drawLoad(at, view));
  });

  constructor() {
    void this.refresh();
    inject(Live).whenever(['post', 'people', 'blog'], () => this.refresh());
  }

  protected isOver({ posts, fits }: WeekLoad): boolean {
    return fits !== null && posts > fits;
  }
  protected onTime({ of, count }: { of: number; count: number }): string {
    return count === 0 ? 'too few to tell' : `${of} of ${formatCount(count, 'post')}`;
  }

  private async refresh(): Promise<void> {
    try {
      this.view.set(await this.api.call('load.see', { query: {} }));
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
