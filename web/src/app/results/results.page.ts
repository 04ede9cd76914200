import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { MatExpansionModule } from '@angular/material/expansion';
import { Router, RouterLink } from '@angular/router';
import type { ResultsView } from '@keyroster/contract';
import {
  SPAN_DAYS,
  VERDICT_NAMES,
  addDays,
  daysIn,
  formatCount,
  formatShortDate,
  isDate,
  lastDays,
} from '@keyroster/core';
import { catchError, of, switchMap } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { inBlog } from '../api/blog-choice';
import { Chart } from '../ui/chart';
import { EmptyState } from '../ui/empty-state';
import { ErrorLine } from '../ui/error-line';
import { DateField, SwitchField } from '../ui/fields';
import { PageHead } from '../ui/page-head';
import { SectionHead } from '../ui/section-head';
import { drawDays, drawGroups } from './charts';
import { SPAN_VERDICTS, changeWords, figure, hoursWords, lengthWords, shareWords } from './words';

type Grouping = keyof ResultsView['groups'];

const GROUPINGS: { value: Grouping; label: string }[] = [
  { value: 'category', label: 'Category' },
  { value: 'person', label: 'Person' },
  { value: 'weekday', label: 'Weekday' },
  { value: 'hour', label: 'Hour' },
  { value: 'form', label: 'Title' },
];
const SPAN_NAMES: Record<(typeof SPAN_DAYS)[number], string> = {
  7: 'Week',
  28: 'Four weeks',
  91: 'Quarter',
  365: 'Year',
};
const FEW_POSTS = 15;

/** What came of posts, pieces and letters: how often, of what more, and whether that is more than chance. */
@Component({
  imports: [
    Chart,
    DateField,
    EmptyState,
    ErrorLine,
    MatButton,
    MatExpansionModule,
    PageHead,
    RouterLink,
    SectionHead,
    SwitchField,
  ],
  templateUrl: './results.page.html',
  styleUrl: './results.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ResultsPage {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  protected readonly session = inject(SessionService);
  /** From the address: the first and the last day, and how posts are grouped. */
  readonly from = input<string>();
  readonly to = input<string>();
  readonly by = input<string>();
  protected readonly error = signal('');
  protected readonly allPosts = signal(false);
  protected readonly groupings = GROUPINGS;
  protected readonly spans = [
    ...SPAN_DAYS.map((days) => ({ value: days as number, label: SPAN_NAMES[days] })),
    { value: 0, label: 'Other days' },
  ];
  protected readonly span = computed(() => {
    const [from, to] = [this.from() ?? '', this.to() ?? ''];
    return isDate(from) && isDate(to) ? { from, to } : lastDays(this.session.today(), 91);
  });
  /** Which of the spans it is; 0 for other days. */
  protected readonly chosenDays = computed(() => {
    const days = daysIn(this.span());
    const known = SPAN_DAYS.find((n) => n === days && this.span().to === this.session.today());
    return this.picking() ? 0 : (known ?? 0);
  });
  protected readonly picking = signal(false);
  protected readonly grouping = computed(
    () => GROUPINGS.find((g) => g.value === this.by())?.value ?? 'category',
  );
  protected readonly view = toSignal(
    toObservable(this.span).pipe(
      switchMap((query) =>
        this.api.request('results.see', { query }).pipe(
          catchError((error: unknown) => {
            this.error.set(sentenceOf(error));
            return of(null);
          }),
        ),
      ),
    ),
    { initialValue: null },
  );
  protected readonly csv = computed(() =>
    inBlog(`/api/results.csv?from=${this.span().from}&to=${this.span().to}`),
  );
  protected readonly groups = computed(() => this.view()?.groups[this.grouping()] ?? []);
  protected readonly draw = computed(() => {
    const days = this.view()?.days;
    const today = this.session.today();
    return days ? (at: HTMLElement) => drawDays(at, days, today) : null;
  });
  protected readonly drawGroup = computed(() => {
    const groups = this.groups();
    return groups.length > 0 ? (at: HTMLElement) => drawGroups(at, groups) : null;
  });
  protected readonly shownPosts = computed(() =>
    (this.view()?.posts ?? []).slice(0, this.allPosts() ? undefined : FEW_POSTS),
  );
  protected readonly young = computed(() => {
    const n = this.view()?.tooYoung ?? 0;
    return n === 0 ? '' : `${formatCount(n, 'post')} not a week old yet, left out here.`;
  });
  protected readonly verdicts = VERDICT_NAMES;
  protected readonly spanVerdicts = SPAN_VERDICTS;
  protected readonly figure = figure;
  protected readonly share = shareWords;
  protected readonly change = changeWords;
  protected readonly titleLength = lengthWords;
  protected readonly day = (date: string): string => formatShortDate(date.slice(0, 10), this.session.today());
  protected readonly hours = hoursWords;

  protected choose(days: number): void {
    this.picking.set(days === 0);
    if (days > 0) this.go(lastDays(this.session.today(), days));
  }
  protected pick(part: 'from' | 'to', value: string): void {
    if (!value) return;
    const span = { ...this.span(), [part]: value };
    // The other end moves along rather than being refused.
    if (span.from > span.to) span[part === 'from' ? 'to' : 'from'] = addDays(value, part === 'from' ? 6 : -6);
    this.picking.set(true);
    this.go(span);
  }
  protected group(by: Grouping): void {
    this.go({ by });
  }
  private go(queryParams: object): void {
    void this.router.navigate([], { queryParams, queryParamsHandling: 'merge' });
  }
}
