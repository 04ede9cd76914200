import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { WEEKDAYS, formatCount, formatDate, startOfWeek, weekday, type RunwayDay } from '@keyroster/core';
import { RunwayService } from './runway.service';

const STATE_WORDS: Record<RunwayDay['state'], string> = {
  ready: 'ready',
  'under way': 'under way',
  open: 'open slot',
  late: 'late',
  none: 'nothing planned',
};

/**
 * One sentence, then 21 days: filled is cleared or further, outlined under way, hatched an open slot, red
 * late.
 */
@Component({
  selector: 'kr-runway',
  imports: [RouterLink],
  template: `
    <div class="say" role="status">
      @if (runway.view(); as view) {
        <b>{{ view.headline }}</b><span>{{ view.detail }}</span>
      }
    </div>
    <nav class="days" aria-label="The next 21 days">
      @for (day of days(); track day.date) {
        <a
          routerLink="/planner"
          [queryParams]="{ from: day.week, day: day.date }"
          [class.today]="day.today"
          [class.weekend]="day.weekend"
          [attr.aria-label]="day.words"
          [title]="day.words"
        >
          @if (day.state !== 'none') {
            <i [class]="day.css"></i>
          }
          <span aria-hidden="true">{{ day.letter }} {{ day.number }}</span>
        </a>
      }
    </nav>
  `,
  styleUrl: './runway-strip.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RunwayStrip {
  protected readonly runway = inject(RunwayService);
  private static readonly CSS: Record<RunwayDay['state'], string> = {
    ready: 'ready',
    'under way': 'way',
    open: 'open',
    late: 'late',
    none: '',
  };
  protected readonly days = computed(() => {
    const view = this.runway.view();
    return (view?.runway.days ?? []).map((day) => {
      const n = weekday(day.date);
      return {
        date: day.date,
        state: day.state,
        css: RunwayStrip.CSS[day.state],
        today: day.date === view!.today,
        weekend: n > 5,
        week: startOfWeek(day.date),
        letter: WEEKDAYS[n - 1]![0],
        number: Number(day.date.slice(8)),
        words:
          `${formatDate(day.date)}: ` +
          `${STATE_WORDS[day.state]}${day.posts ? `, ${formatCount(day.posts, 'post')}` : ''}`,
      };
    });
  });

  constructor() {
    void this.runway.refresh();
  }
}
