import { ChangeDetectionStrategy, Component, DestroyRef, ElementRef, afterRenderEffect, computed, inject, signal, viewChild } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { RhythmView } from '@keyroster/contract';
import { sayCount, sayRunway, sayShortDate, startOfWeek } from '@keyroster/core';
import type { ECharts } from 'echarts/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { CategoryTab } from '../ui/category-tab';
import { drawRhythm, labelOf } from './rhythm-chart';

const MOST_GAPS = 12;

/** How far the calendar is covered, where it has holes, and how evenly posts follow each other. */
@Component({
  imports: [RouterLink, CategoryTab],
  template: `
    <div class="screen">
      <p class="back"><a routerLink="/planner">Planner</a></p>
      <h1>Runway and rhythm</h1>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      @if (view(); as v) {
        <div class="figures">
          <section><h2>{{ headline() }}</h2><p class="soft">{{ detail() }} in the next 13 weeks. Covered means that every slot until then has a post that is cleared or scheduled.</p></section>
          <section><h2>Behind us: {{ v.rhythm.past.evenness ?? 'too few to say' }}</h2><p class="soft">{{ v.past }}</p></section>
          <section><h2>Ahead of us: {{ v.rhythm.ahead.evenness ?? 'too few to say' }}</h2><p class="soft">{{ v.ahead }}</p></section>
        </div>
        <figure><figcaption>Posts a week, the last 13 weeks, this one and the next 12; the dashed line is what the standing slots want.</figcaption><div #chart class="chart"></div></figure>
        <div class="below">
          <section aria-label="Gaps"><h2>Gaps</h2>
            <ul>@for (gap of gaps(); track gap.date + gap.slotId) { <li><a routerLink="/planner" [queryParams]="{ from: week(gap.date), day: gap.date, view: 'weeks' }">{{ short(gap.date) }} {{ gap.time }}</a> <kr-category [id]="gap.categoryId" /></li> } @empty { <li>None: every slot of the next 13 weeks has a post.</li> }</ul>
            @if (moreGaps(); as n) { <p class="soft">and {{ n }} more further ahead</p> }</section>
          <section><h2>How this is worked out</h2>
            <p>Steady means that the waits between posts are much alike. From the waits in days, their mean μ and their standard deviation σ, burstiness is (σ − μ) ÷ (σ + μ): −1 when every wait is the same, 0 when posts fall at random, towards 1 when they come all at once (Goh and Barabási, 2008). Up to −0.2 we call it steady, from 0.2 in bursts.</p>
            <p>Behind us: {{ number(v.rhythm.past.burstiness) }}. Ahead of us: {{ number(v.rhythm.ahead.burstiness) }}.</p>
            <details><summary>The weeks as figures</summary>
              <table><caption class="unseen">Posts a week</caption><thead><tr><th scope="col">Week</th><th scope="col">Released</th><th scope="col">Ready</th><th scope="col">Under way</th><th scope="col">Wanted</th></tr></thead>
                <tbody>@for (w of v.rhythm.weeks; track w.start) { <tr><th scope="row">{{ label(w) }}</th><td>{{ w.released }}</td><td>{{ w.ready }}</td><td>{{ w.underWay }}</td><td>{{ w.wanted }}</td></tr> }</tbody></table></details></section>
        </div>
      }
    </div>
  `,
  styleUrl: './side-page.scss',
  styles: `
    .figures { display: grid; grid-template-columns: repeat(3, minmax(0, 1fr)); gap: 26px; margin: 12px 0 14px; } .figures section { border-top: 2px solid var(--ink); padding-top: 7px; } .figures p { margin-top: 4px; }
    figure { margin: 0 0 18px; background: var(--sheet); border: 1px solid var(--line); border-radius: 4px; padding: 12px 14px 6px; } figcaption { color: var(--soft); margin-bottom: 8px; } .chart { height: 250px; }
    .below { display: grid; grid-template-columns: minmax(240px, 1fr) minmax(0, 2fr); gap: 26px; } ul { list-style: none; padding: 0; margin: 6px 0; } li { padding: 3px 0; border-bottom: 1px solid var(--hair); display: flex; justify-content: space-between; gap: 10px; } .below p { max-width: 70ch; margin: 6px 0; } td:last-child { text-align: left; }
    @media (max-width: 900px) { .figures, .below { grid-template-columns: minmax(0, 1fr); } }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RhythmPage {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  private readonly chart = viewChild<ElementRef<HTMLElement>>('chart');
  protected readonly view = signal<RhythmView | null>(null);
  protected readonly fault = signal('');
  protected readonly headline = computed(() => sayRunway(this.view()!.runway).headline);
  protected readonly detail = computed(() => sayRunway(this.view()!.runway).detail);
  protected readonly gaps = computed(() => (this.view()?.gaps ?? []).slice(0, MOST_GAPS));
  protected readonly moreGaps = computed(() => { const n = (this.view()?.gaps.length ?? 0) - MOST_GAPS; return n > 0 ? sayCount(n, 'gap') : ''; });
  private readonly today = computed(() => this.view()?.runway.days[0]?.date ?? '');
  protected readonly short = (date: string) => sayShortDate(date, this.today());
  protected readonly week = (date: string) => startOfWeek(date, this.session.blog()?.firstWeekday ?? 1);
  protected readonly number = (value: number | null) => (value === null ? 'too few posts' : value.toFixed(2).replace('-', '−'));
  protected readonly label = labelOf;
  private drawn: ECharts | null = null;

  constructor() {
    void this.refresh();
    inject(Live).whenever(['post', 'blog', 'release'], () => void this.refresh());
    afterRenderEffect(() => {
      const view = this.view();
      const element = this.chart()?.nativeElement;
      if (!view || !element) return;
      this.drawn?.dispose();
      this.drawn = drawRhythm(element, view.rhythm.weeks, this.week(this.today()));
    });
    const watch = new ResizeObserver(() => this.drawn?.resize());
    afterRenderEffect(() => { const element = this.chart()?.nativeElement; if (element) watch.observe(element); });
    inject(DestroyRef).onDestroy(() => { watch.disconnect(); this.drawn?.dispose(); });
  }

  private async refresh(): Promise<void> {
    try {
      this.view.set(await this.api.call('rhythm.see', {}));
      this.fault.set('');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }
}
