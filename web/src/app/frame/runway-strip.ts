import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { WEEKDAYS, sayCount, sayDate, startOfWeek, weekday, type RunwayDay } from '@keyroster/core';
import { RunwayService } from './runway.service';

const STATE_WORDS: Record<RunwayDay['state'], string> = { ready: 'ready', 'under way': 'under way', open: 'open slot', late: 'late', none: 'nothing planned' };

/** One sentence, then 21 days: filled is cleared or further, outlined under way, hatched an open slot, red late. */
@Component({
  selector: 'kr-runway',
  imports: [RouterLink],
  template: `
    <div class="say" role="status">
      @if (runway.view(); as view) { <b>{{ view.headline }}</b><span>{{ view.detail }}</span> }
    </div>
    <nav class="days" aria-label="The next 21 days">
      @for (day of days(); track day.date) {
        <a routerLink="/planner" [queryParams]="{ from: day.week, day: day.date }" [class.today]="day.today" [class.weekend]="day.weekend" [attr.aria-label]="day.words" [title]="day.words">
          @if (day.state !== 'none') { <i [class]="day.css"></i> }<span aria-hidden="true">{{ day.letter }} {{ day.number }}</span>
        </a>
      }
    </nav>
  `,
  styles: `
    :host { display: flex; align-items: stretch; height: 66px; background: var(--sheet); border-bottom: 1px solid var(--line); padding: 0 20px; gap: 18px; }
    .say { width: 210px; align-self: center; flex: none; }
    .say b { font: 600 17px/1.15 var(--serif); display: block; }
    .say span { color: var(--soft); font-size: 12px; }
    .days { flex: 1; display: grid; grid-template-columns: repeat(21, 1fr); min-width: 0; }
    a { display: flex; flex-direction: column; justify-content: flex-end; align-items: center; gap: 3px; border-left: 1px solid var(--hair); font-size: 10.5px; color: var(--soft); position: relative; padding: 7px 0 5px; text-decoration: none; outline-offset: -2px; }
    a:hover { background: var(--hair); }
    a.weekend { background: repeating-linear-gradient(135deg, transparent 0 5px, color-mix(in srgb, var(--ink) 4%, transparent) 5px 6px); }
    i { width: 22px; max-width: 70%; height: 9px; border-radius: 2px; background: var(--verdigris); border: 1.5px solid var(--verdigris); }
    i.way { background: transparent; }
    i.open { background: repeating-linear-gradient(135deg, var(--brass) 0 2px, var(--brass-wash) 2px 5px); border: 1px solid var(--brass); }
    i.late { background: var(--madder); border-color: var(--madder); }
    .today { color: var(--ink); font-weight: 700; }
    .today::after { content: ''; position: absolute; bottom: 0; left: 0; right: 0; height: 3px; background: var(--ink); }
    @media (max-width: 900px) { :host { height: auto; padding: 7px 14px; } .days { display: none; } .say { width: auto; } }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RunwayStrip {
  protected readonly runway = inject(RunwayService);
  private static readonly CSS: Record<RunwayDay['state'], string> = { ready: 'ready', 'under way': 'way', open: 'open', late: 'late', none: '' };
  protected readonly days = computed(() => {
    const view = this.runway.view();
    return (view?.runway.days ?? []).map((day) => {
      const n = weekday(day.date);
      return {
        date: day.date, state: day.state, css: RunwayStrip.CSS[day.state], today: day.date === view!.today, weekend: n > 5, week: startOfWeek(day.date),
        letter: WEEKDAYS[n - 1]![0], number: Number(day.date.slice(8)),
        words: `${sayDate(day.date)}: ${STATE_WORDS[day.state]}${day.posts ? `, ${sayCount(day.posts, 'post')}` : ''}`,
      };
    });
  });

  constructor() {
    void this.runway.refresh();
  }
}
