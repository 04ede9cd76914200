import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import type { PlannerCard } from '@keyroster/contract';
import type { OnTop } from '@keyroster/contract';
import { WEEKDAYS, formatDate, formatShortDate, weekday, type SlotDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Card } from './card';
import { CarryService } from './carry.service';
import { MovesService } from './moves.service';
import { formatSendState } from '../outlets/format-piece';
import { PlannerPieces } from './planner-pieces.service';
import type { DayEntry, DayView, WeekView } from './plan-view';
import { PlannerService } from './planner.service';
import { PlanningService } from './planning.service';
import type { CardDrop, DropPlace } from './dragging';
import { MatTooltip } from '@angular/material/tooltip';
import { MatButton } from '@angular/material/button';

/** A day shows so many cards before it folds the rest: nobody reads sixty in a column. */
const MAX_CARDS = 4;
/**
 * Weeks whose cards are drawn at once; the others follow, one a frame, so that the first are there without
 * waiting for the last.
 */
const FIRST_WEEKS = 2;

/** The weeks as a grid: a row a week, a column a day; a weekend without slots shares a narrow one. */
@Component({
  selector: 'kr-weeks',
  imports: [Card, CdkDrag, CdkDropList, MatButton, MatTooltip, RouterLink],
  templateUrl: './weeks.html',
  styleUrl: './weeks.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Weeks {
  protected readonly planner = inject(PlannerService);
  protected readonly moves = inject(MovesService);
  protected readonly pieces = inject(PlannerPieces);
  protected readonly formatState = formatSendState;
  protected readonly carry = inject(CarryService);
  protected readonly planning = inject(PlanningService);
  protected readonly session = inject(SessionService);
  /** The day that the address asks for. */
  readonly asked = input<string>();
  readonly opened = output<PlannerCard>();
  readonly dropped = output<CardDrop>();
  readonly keyed = output<{ event: KeyboardEvent; post: PlannerCard }>();
  readonly fill = output<{ date: string; slot: SlotDate | null }>();
  private readonly unfolded = signal<ReadonlySet<string>>(new Set());
  protected readonly mayAdd = computed(
    () =>
      (this.session.blog()?.categories ?? []).some((c) => this.session.isDeskFor(c.id)) ||
      this.session.isDeskFor(null),
  );

  /** Weeks, by their first day, whose cards are drawn. */
  protected readonly drawn = signal<ReadonlySet<string>>(new Set());

  constructor() {
    effect((cleanup) => {
      const starts = this.planner.weeks().map((w) => w.days[0]!.date);
      // A week that left the screen is forgotten; it is drawn in its turn when it comes back.
      const drawn = new Set([...this.drawn()].filter((start) => starts.includes(start)));
      const missing = starts.filter((start) => !drawn.has(start));
      if (missing.length === 0) {
        if (drawn.size < this.drawn().size) this.drawn.set(drawn);
        return;
      }
      const add = (n: number) => this.drawn.set(new Set([...drawn, ...missing.slice(0, n)]));
      if (missing.length === starts.length) add(FIRST_WEEKS);
      else {
        const frame = requestAnimationFrame(() => add(1));
        cleanup(() => cancelAnimationFrame(frame));
      }
    });
  }

  /** The days of a week in columns: a weekend without slots shares a narrow one. */
  protected grouped(week: WeekView): DayView[][] {
    const withSlots = this.slotDays();
    const groups: DayView[][] = [];
    for (const day of week.days) {
      const last = groups.at(-1);
      const joins =
        day.weekend &&
        !withSlots.has(weekday(day.date)) &&
        last?.[0]?.weekend &&
        !withSlots.has(weekday(last[0].date));
      if (joins) last.push(day);
      else groups.push([day]);
    }
    return groups;
  }

  /** What begins to stand on top of the front page, by its day. */
  protected readonly onTop = computed(() => {
    const byDay = new Map<string, OnTop[]>();
    for (const top of this.planner.view()?.onTop ?? [])
      byDay.set(top.date, [...(byDay.get(top.date) ?? []), top]);
    return byDay;
  });

  private readonly slotDays = computed(
    () => new Set((this.session.blog()?.slots ?? []).map((s) => s.weekday)),
  );

  protected readonly columns = computed(() => {
    const week = this.planner.weeks()[0];
    return week
      ? `52px ${this.grouped(week)
          .map((g) => (g.length > 1 ? '78px' : 'minmax(0, 1fr)'))
          .join(' ')}`
      : '';
  });

  protected readonly heads = computed(() => {
    const week = this.planner.weeks()[0];
    if (!week) return [];
    const slots = this.session.blog()?.slots ?? [];
    return this.grouped(week).map((group) => ({
      name: group.map((d) => WEEKDAYS[weekday(d.date) - 1]!.slice(0, 3)).join('–'),
      slots: group
        .flatMap((d) => slots.filter((s) => s.weekday === weekday(d.date)))
        .map((s) => `${this.session.category(s.categoryId)?.name ?? ''} ${s.time}`)
        .join(', '),
    }));
  });

  protected seen(day: DayView): DayEntry[] {
    return day.entries.length > MAX_CARDS + 1 && !this.unfolded().has(day.date)
      ? day.entries.slice(0, MAX_CARDS)
      : day.entries;
  }

  protected folded(day: DayView): number {
    return day.entries.length - this.seen(day).length;
  }

  protected unfold(date: string): void {
    this.unfolded.update((dates) => new Set([...dates, date]));
  }

  /** N, with the focus anywhere in a day: a new post there. */
  protected newHere(event: KeyboardEvent, day: DayView): void {
    if (
      event.key.toLowerCase() !== 'n' ||
      event.ctrlKey ||
      event.metaKey ||
      event.altKey ||
      event.defaultPrevented ||
      day.past ||
      !this.mayAdd()
    )
      return;
    event.preventDefault();
    this.fill.emit({ date: day.date, slot: null });
  }

  protected nameOf(slot: SlotDate): string {
    return this.session.category(slot.categoryId)?.name ?? '';
  }

  protected fits(slot: SlotDate): string {
    const n = this.planner.fitting().get(slot.categoryId) ?? 0;
    return n === 0 ? 'tray is dry' : n === 1 ? '1 pitch fits' : `${n} pitches fit`;
  }

  protected weekdayOf(day: DayView): string {
    return WEEKDAYS[weekday(day.date) - 1]!.slice(0, 3);
  }

  private readonly said = new Map<string, string>();

  protected words(day: DayView): string {
    let words = this.said.get(day.date);
    if (!words) this.said.set(day.date, (words = formatDate(day.date)));
    return day.today ? `${words}, today` : words;
  }

  protected readonly place = (day: DayView): DropPlace => day.date;
  protected readonly short = (date: string) => formatShortDate(date);
}
