import { CdkDropListGroup } from '@angular/cdk/drag-drop';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { interval } from 'rxjs';
import { MatMenuModule } from '@angular/material/menu';
import { Router, RouterLink } from '@angular/router';
import type { PlannerCard } from '@keyroster/contract';
import { STAGES, addDays, formatCount, formatDistance, startOfWeek, type PlanTask } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Live } from '../api/live';
import { ByPerson } from './by-person';
import { CardActions } from './card-actions';
import { CarryService } from './carry.service';
import { MovesService } from './moves.service';
import { PlannerService } from './planner.service';
import { PlanPanel } from './plan-panel';
import { PlanningService } from './planning.service';
import { PlannerPieces } from './planner-pieces.service';
import { FACTS, factLabel, PlannerPreferences, type Fact } from './planner-preferences.service';
import { RunList } from './run-list';
import { Tray } from './tray';
import { TrayService } from './tray.service';
import { Weeks } from './weeks';
import { ErrorLine } from '../ui/error-line';
import { ChoiceField, SwitchField } from '../ui/fields';
import { MatIcon } from '@angular/material/icon';
import { inBlog } from '../api/blog-choice';
import { MatTooltip } from '@angular/material/tooltip';

const SPANS = Array.from({ length: 12 }, (_, i) => i + 1);
const VIEWS = [
  { value: 'weeks', label: 'Weeks' },
  { value: 'people', label: 'By person' },
  { value: 'list', label: 'Run list' },
] as const;
type View = (typeof VIEWS)[number]['value'];
/** What is late is named so far; the run list has all of it. */
const MAX_LATE = 5;
const TICK_MS = 300_000;

@Component({
  imports: [
    MatButton,
    CdkDropListGroup,
    MatMenuModule,
    RouterLink,
    ByPerson,
    PlanPanel,
    RunList,
    Tray,
    Weeks,
    ErrorLine,
    ChoiceField,
    SwitchField,
    MatIcon,
    MatTooltip,
    MatIconButton,
  ],
  providers: [
    PlannerService,
    PlanningService,
    MovesService,
    CarryService,
    TrayService,
    PlannerPieces,
    CardActions,
  ],
  templateUrl: './planner.page.html',
  styleUrl: './planner.page.scss',
  host: { '(document:keydown.escape)': 'cards.cancelDrag()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PlannerPage {
  protected readonly planner = inject(PlannerService);
  protected readonly planning = inject(PlanningService);
  protected readonly moves = inject(MovesService);
  protected readonly carry = inject(CarryService);
  protected readonly cards = inject(CardActions);
  protected readonly session = inject(SessionService);
  protected readonly taste = inject(PlannerPreferences);
  private readonly router = inject(Router);
  /** From the address: first week, how many, the day that was asked for, view and filters. */
  readonly from = input<string>();
  readonly weeks = input<string>();
  readonly day = input<string>();
  readonly view = input<string>();
  readonly category = input<string>();
  readonly person = input<string>();
  readonly stage = input<string>();
  /** A plan that is proposed: its kind, its days, and who drops out. */
  readonly plan = input<string>();
  readonly first = input<string>();
  readonly last = input<string>();
  readonly who = input<string>();
  protected readonly views = VIEWS;
  protected readonly facts = FACTS;
  protected readonly factLabel = factLabel;
  protected readonly spans = SPANS;
  protected readonly stages = STAGES.filter((s) => s !== 'pitch' && s !== 'withdrawn');
  protected readonly showing = computed(
    (): View => VIEWS.find((v) => v.value === (this.view() ?? this.taste.view()))?.value ?? 'weeks',
  );
  protected readonly shownFacts = computed(() =>
    FACTS.filter((f: Fact) => this.taste.facts().has(f))
      .map(factLabel)
      .join(', '),
  );
  protected readonly count = computed(() => {
    const n = Number(this.weeks() ?? this.taste.weeks() ?? 4);
    return Number.isInteger(n) && n >= 1 && n <= 12 ? n : 4;
  });
  protected readonly late = computed(() => (this.planner.view()?.late ?? []).slice(0, MAX_LATE));
  protected readonly moreLate = computed(() =>
    Math.max(0, (this.planner.view()?.late.length ?? 0) - MAX_LATE),
  );
  /** The run list in this span and with these filters, for other programs. */
  protected readonly csv = computed(() => {
    const filter = this.planner.filter();
    const asked = {
      from: this.planner.view()?.from,
      weeks: String(this.count()),
      category: filter.categoryId,
      person: filter.personId,
      stage: filter.stage,
    };
    const given = Object.entries(asked).flatMap(([key, value]) => (value ? [[key, String(value)]] : []));
    return inBlog(`/api/planner/run-list.csv?${new URLSearchParams(given).toString()}`);
  });

  constructor() {
    const number = (text: string | undefined) => (/^\d{1,9}$/.test(text ?? '') ? Number(text) : null);
    effect(() =>
      this.planner.filter.set({
        categoryId: number(this.category()),
        personId: number(this.person()),
        stage: this.stages.find((s) => s === this.stage()) ?? null,
      }),
    );
    effect(() => {
      const task = this.task();
      untracked(() => void this.planning.propose(task));
    });
    effect(() => {
      void this.planner.show(
        /^\d{4}-\d\d-\d\d$/.test(this.from() ?? '') ? this.from() : undefined,
        this.count(),
      );
    });
    inject(Live).gathered(['post', 'note', 'blog', 'people'], (events) => void this.planner.hear(events));
    // What is late, and what has passed, changes with the clock alone.
    interval(TICK_MS)
      .pipe(takeUntilDestroyed())
      .subscribe(() => void this.planner.refresh());
  }

  /** The days of a plan are those of the address, else those on the screen that are still to come. */
  private readonly days = computed(() => {
    const isDay = (text: string | undefined) => /^\d{4}-\d\d-\d\d$/.test(text ?? '');
    const view = this.planner.view();
    if (!view) return null;
    const soonest = addDays(view.today, 1);
    const from = isDay(this.first()) ? this.first()! : view.from < soonest ? soonest : view.from;
    const to = isDay(this.last()) ? this.last()! : view.to;
    return { from, to: to < from ? from : to };
  });
  private readonly task = computed(
    (): PlanTask | null => {
      const days = this.days();
      const kind = this.plan();
      if (!days || !this.session.may('proposePlan')) return null;
      if (kind === 'fill' || kind === 'cover') return { kind, ...days };
      const writerId = Number(this.who() ?? this.planner.view()?.writers[0]?.id);
      return kind === 'without' && Number.isInteger(writerId) ? { kind, writerId, ...days } : null;
    },
    { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
  );

  protected propose(kind: PlanTask['kind']): void {
    this.look('weeks');
    this.set({ view: 'weeks', plan: kind, first: null, last: null });
  }
  protected putAway(): void {
    this.set({ plan: null, first: null, last: null, who: null });
  }

  protected whyLate(post: PlannerCard): string {
    const view = this.planner.view();
    if (!view) return '';
    return post.runLocal && post.runLocal < view.nowLocal
      ? `was to run ${formatDistance(post.runLocal.slice(0, 10), view.today)}`
      : post.copyDate
        ? `copy was due ${formatDistance(post.copyDate, view.today)}`
        : '';
  }

  protected goto(from: string | undefined): void {
    this.set({ from: from ?? '', day: '' });
  }
  protected go(weeks: number): void {
    this.goto(addDays(this.planner.view()?.from ?? startOfWeek(this.session.today()), weeks * 7));
  }
  protected span(weeks: number): void {
    this.taste.remember({ weeks: String(weeks) });
    this.set({ weeks });
  }
  protected readonly lateCount = (n: number) => formatCount(n, 'late post');
  /** On a phone the tray is unfolded when it is wanted. */
  protected readonly trayOpen = signal(false);
  protected look(view: View): void {
    this.taste.remember({ view });
    this.set({ view });
  }
  protected set(params: Record<string, string | number | null | undefined>): void {
    void this.router.navigate([], {
      queryParams: Object.fromEntries(Object.entries(params).map(([k, v]) => [k, v || null])),
      queryParamsHandling: 'merge',
    });
  }
  protected print(): void {
    window.print();
  }
}
