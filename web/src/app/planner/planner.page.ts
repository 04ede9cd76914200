import { CdkDropListGroup } from '@angular/cdk/drag-drop';
import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  computed,
  effect,
  inject,
  input,
  signal,
} from '@angular/core';
import { MatOption } from '@angular/material/core';
import { MatSelect } from '@angular/material/select';
import { MatFormField } from '@angular/material/form-field';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatMenuModule } from '@angular/material/menu';
import { Router, RouterLink } from '@angular/router';
import type { MoveDone, PlannerCard } from '@keyroster/contract';
import {
  STAGES,
  addDays,
  formatCount,
  formatDate,
  formatDistance,
  startOfWeek,
  type SlotDate,
} from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Live } from '../api/live';
import { Messages } from '../ui/messages.service';
import { BriefDialog, type BriefData, type BriefResult } from './brief';
import { ByPerson } from './by-person';
import { CarryService } from './carry.service';
import { letGo, slotTimeAt, TRAY, type CardDrop } from './dragging';
import { FillDay, type FillChoice, type FillData } from './fill-day';
import { MovesService, type Place } from './moves.service';
import { PlaceMenu, type PlaceChoice, type PlaceData } from './place-menu';
import { PlannerService } from './planner.service';
import { PlannerPieces } from './planner-pieces.service';
import { FACTS, PlannerPreferences, type Fact } from './planner-preferences.service';
import { RunList } from './run-list';
import { Tray } from './tray';
import { TrayService } from './tray.service';
import { Weeks } from './weeks';

const SPANS = Array.from({ length: 12 }, (_, i) => i + 1);
const VIEWS = [
  { view: 'weeks', label: 'Weeks' },
  { view: 'people', label: 'By person' },
  { view: 'list', label: 'Run list' },
] as const;
type View = (typeof VIEWS)[number]['view'];
/** What is late is named so far; the run list has all of it. */
const MAX_LATE = 5;
const TICK_MS = 300_000;

@Component({
  imports: [
    MatOption,
    MatSelect,
    MatFormField,
    MatButton,
    CdkDropListGroup,
    MatMenuModule,
    RouterLink,
    ByPerson,
    RunList,
    Tray,
    Weeks,
  ],
  providers: [PlannerService, MovesService, CarryService, TrayService, PlannerPieces],
  templateUrl: './planner.page.html',
  styleUrl: './planner.page.scss',
  host: { '(document:keydown.escape)': 'cancelDrag()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PlannerPage {
  protected readonly planner = inject(PlannerService);
  protected readonly moves = inject(MovesService);
  protected readonly carry = inject(CarryService);
  protected readonly session = inject(SessionService);
  protected readonly taste = inject(PlannerPreferences);
  private readonly tray = inject(TrayService);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialog);
  private readonly messages = inject(Messages);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  /** From the address: first week, how many, the day that was asked for, view and filters. */
  readonly from = input<string>();
  readonly weeks = input<string>();
  readonly day = input<string>();
  readonly view = input<string>();
  readonly category = input<string>();
  readonly person = input<string>();
  readonly stage = input<string>();
  protected readonly views = VIEWS;
  protected readonly facts = FACTS;
  protected readonly spans = SPANS;
  protected readonly stages = STAGES.filter((s) => s !== 'pitch' && s !== 'withdrawn');
  protected readonly showing = computed(
    (): View => VIEWS.find((v) => v.view === (this.view() ?? this.taste.view()))?.view ?? 'weeks',
  );
  protected readonly shownFacts = computed(() =>
    FACTS.filter((f: Fact) => this.taste.facts().has(f)).join(', '),
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
    return `/api/planner/run-list.csv?${new URLSearchParams(Object.entries(asked).flatMap(([k, v]) => (v ? [[k, String(v)]] : []))).toString()}`;
  });
  private cancelled = false;

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
      void this.planner.show(
        /^\d{4}-\d\d-\d\d$/.test(this.from() ?? '') ? this.from() : undefined,
        this.count(),
      );
    });
    inject(Live).gathered(['post', 'note', 'blog', 'people'], (events) => void this.planner.hear(events));
    // What is late, and what has passed, changes with the clock alone.
    const tick = setInterval(() => void this.planner.refresh(), TICK_MS);
    inject(DestroyRef).onDestroy(() => clearInterval(tick));
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
  protected span(weeks: string): void {
    this.taste.remember({ weeks });
    this.set({ weeks });
  }
  protected readonly lateCount = (n: number) => formatCount(n, 'late post');
  /** On a phone the tray is unfolded when it is wanted. */
  protected readonly trayOpen = signal(false);
  protected look(view: View): void {
    this.taste.remember({ view });
    this.set({ view });
  }
  protected set(params: Record<string, string>): void {
    void this.router.navigate([], {
      queryParams: Object.fromEntries(Object.entries(params).map(([k, v]) => [k, v || null])),
      queryParamsHandling: 'merge',
    });
  }
  protected print(): void {
    window.print();
  }

  protected open(post: PlannerCard): void {
    if (this.carry.lifted()) return;
    this.dialog
      .open<BriefDialog, BriefData, BriefResult>(BriefDialog, {
        data: {
          id: post.id,
          alike: this.tray.alike().get(post.id) ?? null,
          movable: this.planner.mayPlan(post),
        },
        width: '560px',
        maxWidth: '94vw',
        ariaLabel: post.title,
      })
      .afterClosed()
      .subscribe((then) => {
        if (then === 'move') {
          this.menu(post);
          return;
        }
        // At once, so that what is done next is done to the post as it is now.
        if (then) this.planner.take(then);
        // The card may be drawn anew, and with it the place that had the focus.
        if (document.activeElement === document.body) this.focusCard(post.id);
      });
  }

  /** Escape while a card is dragged: it goes back where it was. */
  protected cancelDrag(): void {
    if (!this.carry.dragging()) return;
    this.cancelled = true;
    letGo();
  }

  protected drop(event: CardDrop): void {
    const post = event.item.data as PlannerCard;
    this.carry.over.set(null);
    const cancelled = this.cancelled;
    this.cancelled = false;
    if (cancelled) {
      this.messages.done('Put back where it was.');
      return;
    }
    const where = event.container.data;
    if (typeof where === 'object') void this.put(post, { to: 'day', date: where.date, byline: where.byline });
    else if (where === TRAY) {
      if (post.stage !== 'pitch') void this.put(post, { to: 'tray' });
    } else {
      const time = slotTimeAt(event.dropPoint);
      if (time || event.container !== event.previousContainer)
        void this.put(post, { to: 'day', date: where, time });
    }
  }

  private async put(post: PlannerCard, place: Place): Promise<void> {
    const done = await this.moves.put(post, place);
    if (!done) return;
    this.messages.done(this.sentence(post, done), this.moves.undo(post, done));
    this.focusCard(post.id);
    if (post.stage === 'pitch' && place.to === 'day') this.open(done.post);
  }

  private sentence(before: PlannerCard, { post, sentence }: MoveDone): string {
    if (post.stage === 'pitch') return `“${post.title}” is back in the tray.`;
    const by = post.byline?.id !== before.byline?.id && post.byline ? ` ${post.byline.name} writes it.` : '';
    const when = post.runLocal ? ` ${formatDate(post.runLocal)}, ${post.runLocal.slice(11, 16)}` : '';
    return (before.stage === 'pitch' ? `Commissioned for${when}.` : sentence) + by;
  }

  /**
   * Space lifts the card in focus; arrows carry it over the days; Space or Enter drops it; Escape puts it
   * back. M opens the menu.
   */
  protected key(event: KeyboardEvent, post: PlannerCard): void {
    if (!this.planner.mayPlan(post)) return;
    if (!this.carry.lifted()) {
      if (event.key === ' ' && this.showing() === 'weeks') {
        event.preventDefault();
        this.carry.lift(post);
        this.showTarget();
      } else if (event.key.toLowerCase() === 'm' && !event.ctrlKey && !event.metaKey) {
        event.preventDefault();
        this.menu(post);
      } else if (/^[0-5]$/.test(event.key) && post.stage === 'pitch') {
        event.preventDefault();
        void this.tray.rate(post, Number(event.key) || null);
      }
      return;
    }
    const step = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      this.carry.carry(step);
      this.showTarget();
    } else if (event.key === ' ' || event.key === 'Enter') {
      event.preventDefault();
      const held = this.carry.drop();
      if (held) void this.put(held.post, { to: 'day', date: held.date });
    } else if (event.key === 'Escape' || event.key === 'Tab') this.carry.putBack();
  }

  private showTarget(): void {
    this.element.nativeElement
      .querySelector(`[data-day='${this.carry.target() ?? ''}']`)
      ?.scrollIntoView({ block: 'nearest' });
  }

  private menu(post: PlannerCard): void {
    const data: PlaceData = {
      post,
      openSlots: this.planner.openSlots(),
      today: this.planner.view()?.today ?? '',
      warnings: (date, time) => this.planner.warningsAt(post, date, time),
    };
    this.dialog
      .open<PlaceMenu, PlaceData, PlaceChoice>(PlaceMenu, {
        data,
        width: '520px',
        maxWidth: '94vw',
        ariaLabel: `Move ${post.title}`,
      })
      .afterClosed()
      .subscribe((choice) => {
        if (choice) void this.put(this.planner.newest(post), choice);
      });
  }

  /** A new post typed straight onto a day, or a pitch taken from the tray for it. */
  protected fill({ date, slot }: { date: string; slot: SlotDate | null }): void {
    const data: FillData = {
      date,
      slot,
      pitches: this.planner.view()?.pitches ?? [],
      today: this.planner.view()?.today ?? '',
      warnings: (time, categoryId) => this.planner.warningsOfNew(date, time, categoryId),
    };
    this.dialog
      .open<FillDay, FillData, FillChoice>(FillDay, {
        data,
        width: '560px',
        maxWidth: '94vw',
        ariaLabel: `New post on ${formatDate(date)}`,
      })
      .afterClosed()
      .subscribe((choice) => {
        if (!choice) return;
        if ('pitch' in choice) {
          void this.put(choice.pitch, { to: 'day', date, time: choice.time });
          return;
        }
        this.planner.take(choice.post);
        this.messages.done(
          `“${choice.post.title}” is on ${formatDate(choice.post.runLocal!)}, ` +
            `${choice.post.runLocal!.slice(11, 16)}.`,
          this.moves.undo({ ...choice.post, stage: 'pitch', runLocal: null }, choice),
        );
        this.focusCard(choice.post.id);
      });
  }

  private focusCard(id: number): void {
    setTimeout(() => this.element.nativeElement.querySelector<HTMLElement>(`[data-card='${id}']`)?.focus());
  }
}
