import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { MatExpansionModule } from '@angular/material/expansion';
import { RouterLink } from '@angular/router';
import { addDays, everyDay, formatShortDate, formatWhen } from '@keyroster/core';
import { catchError, of, switchMap } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Chart } from '../ui/chart';
import { EmptyState } from '../ui/empty-state';
import { ErrorLine } from '../ui/error-line';
import { PageHead } from '../ui/page-head';
import { SectionHead } from '../ui/section-head';
import { drawPostDays } from './post-chart';
import { figure, shareWords } from './words';

/** Days after its release that are shown, unless it is younger. */
const SHOWN_DAYS = 60;

/** What came of one post: how often it was read, beside others of its category, and what its pieces and letters did. */
@Component({
  imports: [Chart, EmptyState, ErrorLine, MatButton, MatExpansionModule, PageHead, RouterLink, SectionHead],
  templateUrl: './post-results.page.html',
  styleUrl: './results.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PostResultsPage {
  private readonly api = inject(Api);
  protected readonly session = inject(SessionService);
  readonly id = input.required<string>();
  protected readonly error = signal('');
  protected readonly results = toSignal(
    toObservable(this.id).pipe(
      switchMap((id) =>
        this.api.request('results.post', { id: Number(id) }).pipe(
          catchError((error: unknown) => {
            this.error.set(sentenceOf(error));
            return of(null);
          }),
        ),
      ),
    ),
    { initialValue: null },
  );
  protected readonly days = computed(() => {
    const r = this.results();
    if (!r?.runLocal) return [];
    const from = r.runLocal.slice(0, 10);
    const last = addDays(from, SHOWN_DAYS - 1);
    const to = last < this.session.today() ? last : this.session.today();
    return to < from ? [] : everyDay({ from, to }, new Map(r.days.map((d) => [d.day, d.reads])));
  });
  protected readonly draw = computed(() => {
    const days = this.days();
    const today = this.session.today();
    return days.length > 0 ? (at: HTMLElement) => drawPostDays(at, days, today) : null;
  });
  protected readonly beside = computed(() => {
    const r = this.results();
    if (!r?.category || r.firstWeek === null) return '';
    const { name, count, low, high, median } = r.category;
    if (low === null || high === null)
      return `${name} has too few other posts of the last year to compare with.`;
    const word = r.firstWeek > high ? 'more than' : r.firstWeek < low ? 'less than' : 'as';
    return (
      `That is ${word} others of ${name} usually are: ` +
      `${figure(median)} at the median of ${count} (${figure(low)} to ${figure(high)}).`
    );
  });
  protected readonly figure = figure;
  protected readonly share = shareWords;
  protected readonly day = (date: string): string => formatShortDate(date.slice(0, 10), this.session.today());
  protected readonly when = (local: string): string => formatWhen(local.slice(0, 16), this.session.today());
}
