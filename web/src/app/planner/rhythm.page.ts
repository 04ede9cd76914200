import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { RhythmView } from '@keyroster/contract';
import { formatCount, formatRunway, formatShortDate, startOfWeek } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { CategoryTab } from '../site/category-tab';
import { drawRhythm, labelOf } from './rhythm-chart';
import { Chart } from '../ui/chart';
import { ErrorLine } from '../ui/error-line';
import { PageHead } from '../ui/page-head';
import { MatExpansionModule } from '@angular/material/expansion';

const MAX_GAPS = 12;

/** How far the calendar is covered, where it has holes, and how evenly posts follow each other. */
@Component({
  imports: [RouterLink, CategoryTab, Chart, ErrorLine, PageHead, MatExpansionModule],
  templateUrl: './rhythm.page.html',
  styleUrl: './side-page.scss',
  styles: `
    .figures {
      display: grid;
      grid-template-columns: repeat(3, minmax(0, 1fr));
      gap: 26px;
      margin: 12px 0 14px;
    }
    .figures section {
      border-top: 2px solid var(--ink);
      padding-top: 7px;
    }
    .figures p {
      margin-top: 4px;
    }
    figure {
      margin: 0 0 18px;
      background: var(--sheet);
      border: 1px solid var(--line);
      border-radius: 4px;
      padding: 12px 14px 6px;
    }
    figcaption {
      color: var(--soft);
      margin-bottom: 8px;
    }
    .below {
      display: grid;
      grid-template-columns: minmax(240px, 1fr) minmax(0, 2fr);
      gap: 26px;
    }
    ul {
      list-style: none;
      padding: 0;
      margin: 6px 0;
    }
    li {
      padding: 3px 0;
      border-bottom: 1px solid var(--hair);
      display: flex;
      justify-content: space-between;
      gap: 10px;
    }
    .below p {
      max-width: 70ch;
      margin: 6px 0;
    }
    td:last-child {
      text-align: left;
    }
    @media (max-width: 900px) {
      .figures,
      .below {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RhythmPage {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  protected readonly view = signal<RhythmView | null>(null);
  protected readonly error = signal('');
  protected readonly headline = computed(() => formatRunway(this.view()!.runway).headline);
  protected readonly detail = computed(() => formatRunway(this.view()!.runway).detail);
  protected readonly gaps = computed(() => (this.view()?.gaps ?? []).slice(0, MAX_GAPS));
  protected readonly moreGaps = computed(() => {
    const n = (this.view()?.gaps.length ?? 0) - MAX_GAPS;
    return n > 0 ? formatCount(n, 'gap') : '';
  });
  private readonly today = computed(() => this.view()?.runway.days[0]?.date ?? '');
  protected readonly short = (date: string) => formatShortDate(date, this.today());
  protected readonly week = (date: string) => startOfWeek(date, this.session.blog()?.firstWeekday ?? 1);
  protected readonly number = (value: number | null) =>
    value === null ? 'too few posts' : value.toFixed(2).replace('-', '−');
  protected readonly label = labelOf;
  protected readonly draw = computed(() => {
    const view = this.view();
    return view && ((at: HTMLElement) => drawRhythm(at, view.rhythm.weeks, this.week(this.today())));
  });

  constructor() {
    void this.refresh();
    inject(Live).whenever(['post', 'blog', 'release'], () => this.refresh());
  }

  private async refresh(): Promise<void> {
    try {
      this.view.set(await this.api.call('rhythm.see', {}));
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
