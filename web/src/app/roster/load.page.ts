import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterRenderEffect,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import type { LoadView } from '@keyroster/contract';
import { formatCount, formatLeadTime, formatShortDate, type WeekLoad } from '@keyroster/core';
import type { ECharts } from 'echarts/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { ErrorLine } from '../ui/error-line';
import { PageHead } from '../ui/page-head';
import { PersonBadge } from '../ui/person-badge';
import { drawLoad } from './load-chart';

/** What everybody has by week against what fits, who is away, and how quick they are. */
@Component({
  imports: [RouterLink, ErrorLine, PageHead, PersonBadge],
  templateUrl: './load.page.html',
  styleUrl: '../planner/side-page.scss',
  styles: `
    .chart {
      height: 230px;
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
  private readonly chart = viewChild<ElementRef<HTMLElement>>('chart');
  protected readonly view = signal<LoadView | null>(null);
  protected readonly error = signal('');
  protected readonly lead = formatLeadTime;
  protected readonly short = (date: string) => formatShortDate(date, this.view()?.today).replace(/^\w+ /, '');
  private drawn: ECharts | null = null;

  constructor() {
    void this.refresh();
    inject(Live).whenever(['post', 'people', 'blog'], () => void this.refresh());
    afterRenderEffect(() => {
      const view = this.view();
      const element = this.chart()?.nativeElement;
      if (!view || !element) return;
      this.drawn?.dispose();
      this.drawn = drawLoad(element, view);
    });
    const watch = new ResizeObserver(() => this.drawn?.resize());
    afterRenderEffect(() => {
      const element = this.chart()?.nativeElement;
      if (element) watch.observe(element);
    });
    inject(DestroyRef).onDestroy(() => {
      watch.disconnect();
      this.drawn?.dispose();
    });
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
