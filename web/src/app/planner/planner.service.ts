import { Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import {
  unpackCards,
  unpackPlanner,
  type LiveEvent,
  type PlannerCard,
  type PlannerView,
} from '@keyroster/contract';
import {
  addDays,
  fillSlots,
  isHopeless,
  isoWeek,
  MONTHS,
  NO_DATE_CONSTRAINT,
  PlanJudge,
  weekday,
  type Absence,
  type PlannedPost,
  type PlanWarning,
  type SlotDate,
  type Stage,
} from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';

export type DayEntry =
  | { kind: 'post'; post: PlannerCard }
  | { kind: 'slot'; slot: SlotDate; past: boolean }
  | { kind: 'dateConstraint'; pitch: PlannerCard };
export interface DayView {
  date: string;
  number: number;
  today: boolean;
  past: boolean;
  weekend: boolean;
  /** Initials of the writers who are away. */
  away: string[];
  /** Cards, open slots and pitches that want this day, in order of time. */
  entries: DayEntry[];
}
export interface WeekView {
  week: number;
  month: string;
  days: DayView[];
}

/** Which of the dated posts are shown; slots and warnings always count all of them. */
export interface PlannerFilter {
  categoryId: number | null;
  personId: number | null;
  stage: string | null;
}

/** Where a post stands for now, before the server has said so. */
export interface Standing {
  stage: Stage;
  runLocal: string | null;
  byline: PlannerCard['byline'];
}

const DEFAULT_TIME = '08:00';
/** More changes at once are fetched as a whole. */
const MAX_CARDS_ASKED = 40;

export const withSeconds = (time: string) => (time.length === 5 ? `${time}:00` : time);

const planned = new WeakMap<PlannerCard, PlannedPost>();

/** A card as warnings see it; kept with the card, which never changes. */
function plannedOf(post: PlannerCard): PlannedPost {
  let found = planned.get(post);
  if (!found) planned.set(post, (found = asPlanned(post)));
  return found;
}

function asPlanned(post: PlannerCard): PlannedPost {
  return {
    id: post.id,
    title: post.title,
    stage: post.stage,
    runLocal: post.runLocal!,
    categoryId: post.categoryId,
    bylineId: post.byline?.id ?? null,
    dateConstraint: post.dateConstraint,
  };
}

const earlier = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);
const byRunTime = (a: PlannerCard, b: PlannerCard) => earlier(a.runLocal!, b.runLocal!) || a.id - b.id;

/**
 * The weeks and the tray as they stand: what the server said, with moves that are under way laid over it.
 * Components show this; they decide nothing.
 */
@Injectable()
export class PlannerService {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  private readonly told = signal<PlannerView | null>(null);
  /** By post: where it is drawn until the server has confirmed its move. */
  readonly underWay = signal<ReadonlyMap<number, Standing>>(new Map());
  readonly error = signal('');
  readonly filter = signal<PlannerFilter>({ categoryId: null, personId: null, stage: null });
  private span: { from?: string; weeks: number } = { weeks: 4 };

  readonly view = computed((): PlannerView | null => {
    const told = this.told();
    const moves = this.underWay();
    if (!told || moves.size === 0) return told;
    const laid = (post: PlannerCard): PlannerCard => ({ ...post, ...moves.get(post.id)! });
    const still = (post: PlannerCard) => !moves.has(post.id);
    const moved = [...told.dated, ...told.pitches].filter((p) => moves.has(p.id)).map(laid);
    const inSpan = (p: PlannerCard) =>
      p.runLocal !== null && p.runLocal.slice(0, 10) >= told.from && p.runLocal.slice(0, 10) <= told.to;
    return {
      ...told,
      dated: [...told.dated.filter(still), ...moved.filter((p) => p.stage !== 'pitch' && inSpan(p))].sort(
        byRunTime,
      ),
      pitches: [...told.pitches.filter(still), ...moved.filter((p) => p.stage === 'pitch')],
    };
  });

  /** The dated posts that pass the filter, in order of run time. */
  readonly shown = computed(() => {
    const { categoryId, personId, stage } = this.filter();
    if (categoryId === null && personId === null && stage === null) return this.view()?.dated ?? [];
    return (this.view()?.dated ?? []).filter(
      (p) =>
        (categoryId === null || p.categoryId === categoryId) &&
        (personId === null || p.byline?.id === personId) &&
        (stage === null || p.stage === stage),
    );
  });

  private readonly warned = new Map<number, PlanWarning[]>();

  /**
   * The plan that dates are judged against: what is drawn, a moment later, so that a drop is drawn without
   * waiting for the others to be judged anew.
   */
  private readonly judged = signal<PlannerView | null>(null);
  private readonly judge = computed(() => {
    const view = this.judged();
    return (
      view && {
        of: new PlanJudge({
          posts: view.dated.map(plannedOf),
          slots: view.slots,
          absences: view.absences,
          writers: view.writers,
          nowLocal: view.nowLocal,
          firstWeekday: this.session.blog()?.firstWeekday ?? 1,
        }),
        kept: new WeakMap<PlannerCard, PlanWarning[]>(),
      }
    );
  });

  /** What is wrong with a dated post's date; worked out for those that are looked at. */
  warningsOf(post: PlannerCard): PlanWarning[] {
    const judge = this.judge();
    if (!judge || post.runLocal === null) return [];
    let warnings = judge.kept.get(post);
    if (!warnings) {
      warnings = judge.of.warnings(plannedOf(post));
      // The same words are the same object, so that a card whose warnings stand is not drawn anew.
      const last = this.warned.get(post.id);
      if (
        last &&
        last.length === warnings.length &&
        last.every((w, i) => w.sentence === warnings![i]!.sentence)
      )
        warnings = last;
      judge.kept.set(post, warnings);
      this.warned.set(post.id, warnings);
    }
    return warnings;
  }

  readonly weeks = computed((): WeekView[] => {
    const view = this.view();
    if (!view) return [];
    const open = fillSlots(view.slots, view.dated as (PlannerCard & { runLocal: string })[])
      .slots.filter((f) => f.post === null)
      .map((f) => f.slot);
    const entries = new Map<string, DayEntry[]>();
    const put = (date: string, entry: DayEntry) => {
      const list = entries.get(date);
      if (list) list.push(entry);
      else entries.set(date, [entry]);
    };
    const mixed = new Set([
      ...open.map((s) => s.date),
      ...view.pitches.flatMap((p) => p.dateConstraint.mustBeOn ?? []),
    ]);
    for (const pitch of view.pitches)
      if (pitch.dateConstraint.mustBeOn)
        put(pitch.dateConstraint.mustBeOn, { kind: 'dateConstraint', pitch });
    for (const post of this.shown()) put(post.runLocal!.slice(0, 10), { kind: 'post', post });
    for (const slot of open)
      put(slot.date, { kind: 'slot', slot, past: `${slot.date}T${slot.time}:00` < view.nowLocal });
    const at = (e: DayEntry) =>
      e.kind === 'post' ? e.post.runLocal!.slice(11) : e.kind === 'slot' ? `${e.slot.time}:00` : '';
    const initials = new Map(view.writers.map((w) => [w.id, w.initials]));
    const weeks: WeekView[] = [];
    for (let start = view.from; start <= view.to; start = addDays(start, 7)) {
      const days = Array.from({ length: 7 }, (_, i): DayView => {
        const date = addDays(start, i);
        return {
          date,
          number: Number(date.slice(8)),
          today: date === view.today,
          past: date < view.today,
          weekend: weekday(date) > 5,
          away: view.absences
            .filter((a) => a.from <= date && a.to >= date)
            .map((a) => initials.get(a.personId) ?? ''),
          // Posts came in order; only what was laid beside them has to find its place.
          entries: mixed.has(date)
            ? (entries.get(date) ?? []).sort((a, b) => earlier(at(a), at(b)))
            : (entries.get(date) ?? []),
        };
      });
      const middle = addDays(start, 3);
      weeks.push({
        week: isoWeek(middle).week,
        month: MONTHS[Number(middle.slice(5, 7)) - 1]!.slice(0, 3),
        days,
      });
    }
    return weeks;
  });

  /** Slots still to come without a post, over the weeks that are shown. */
  readonly openSlots = computed(() =>
    this.weeks().flatMap((w) =>
      w.days.flatMap((d) => d.entries.flatMap((e) => (e.kind === 'slot' && !e.past ? [e.slot] : []))),
    ),
  );

  /** Pitches that could go into a slot of a category, by category. */
  readonly fitting = computed(() => {
    const counts = new Map<number | null, number>();
    for (const p of this.view()?.pitches ?? []) counts.set(p.categoryId, (counts.get(p.categoryId) ?? 0) + 1);
    return counts;
  });

  /** Late posts that cannot make their date and that this person may put back. */
  readonly hopeless = computed(() => {
    const view = this.view();
    return (view?.late ?? []).filter((p) => isHopeless(p, view!.nowLocal) && this.mayPlan(p));
  });

  constructor() {
    effect((cleanup) => {
      const view = this.view();
      if (untracked(this.judged) === null) {
        this.judged.set(view);
        return;
      }
      const later = setTimeout(() => this.judged.set(view));
      cleanup(() => clearTimeout(later));
    });
  }

  async show(from: string | undefined, weeks: number): Promise<void> {
    this.span = { from, weeks };
    await this.refresh();
  }

  async refresh(): Promise<void> {
    const { from, weeks } = this.span;
    try {
      const view = unpackPlanner(
        await this.api.call('planner.see', { query: { weeks, ...(from ? { from } : {}) } }),
      );
      if (this.span.from === from && this.span.weeks === weeks)
        this.told.update((before) => (before ? settled(before, view) : view));
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  /** Fetches anew what changed: a few cards alone, or everything. */
  async hear(events: readonly LiveEvent[]): Promise<void> {
    const ids = [...new Set(events.map((e) => (e.kind === 'post' || e.kind === 'note' ? e.postId : null)))];
    if (ids.length > MAX_CARDS_ASKED || ids.includes(null)) return this.refresh();
    const asked = ids as number[];
    try {
      const cards = unpackCards(await this.api.call('planner.cards', { query: { ids: asked } }));
      for (const card of cards) {
        const known = this.known(card.id);
        if (
          !known ||
          known.version < card.version ||
          (known.version === card.version && (known.openNotes !== card.openNotes || known.late !== card.late))
        )
          this.take(card);
      }
      if (cards.length < asked.length) await this.refresh();
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  private known(id: number): PlannerCard | undefined {
    const told = this.told();
    return told?.dated.find((p) => p.id === id) ?? told?.pitches.find((p) => p.id === id);
  }

  /** Takes what the server answered about one post, without asking for the rest anew. */
  take(post: PlannerCard): void {
    const told = this.told();
    if (!told) return;
    const others = (list: PlannerCard[]) => list.filter((p) => p.id !== post.id);
    const inSpan =
      post.runLocal !== null &&
      post.runLocal.slice(0, 10) >= told.from &&
      post.runLocal.slice(0, 10) <= told.to;
    this.told.set({
      ...told,
      dated:
        post.stage !== 'pitch' && inSpan ? [...others(told.dated), post].sort(byRunTime) : others(told.dated),
      pitches: post.stage === 'pitch' ? [...others(told.pitches), post] : others(told.pitches),
      late:
        told.late.some((p) => p.id === post.id) || post.late
          ? post.late
            ? [...others(told.late), post]
            : others(told.late)
          : told.late,
    });
  }

  mayPlan(post: PlannerCard): boolean {
    return (
      post.stage !== 'published' && post.stage !== 'withdrawn' && this.session.isDeskFor(post.categoryId)
    );
  }

  absencesOf(personId: number): Absence[] {
    return (this.view()?.absences ?? []).filter((a) => a.personId === personId);
  }

  /**
   * The time a post gets on a day: that of an open slot there, its own category's first, else the time it
   * had, else 08:00.
   */
  timeOn(date: string, post: PlannerCard): string {
    const open = this.openSlots().filter((s) => s.date === date);
    const slot = open.find((s) => s.categoryId === post.categoryId) ?? open[0];
    return slot?.time ?? post.runLocal?.slice(11, 19) ?? DEFAULT_TIME;
  }

  /** What would be wrong with a new post on a day, by nobody yet. */
  warningsOfNew(date: string, time: string, categoryId: number | null): PlanWarning[] {
    return (
      this.judge()?.of.warnings({
        id: 0,
        title: '',
        stage: 'commissioned',
        runLocal: `${date}T${withSeconds(time)}`,
        categoryId,
        bylineId: null,
        dateConstraint: NO_DATE_CONSTRAINT,
      }) ?? []
    );
  }

  /** What would be wrong with a post if it were put on a day, for another writer perhaps. */
  warningsAt(
    post: PlannerCard,
    date: string,
    time = this.timeOn(date, post),
    bylineId = post.byline?.id ?? null,
  ): PlanWarning[] {
    const stage = post.stage === 'pitch' ? 'commissioned' : post.stage;
    return (
      this.judge()?.of.warnings({
        ...asPlanned({ ...post, stage, runLocal: `${date}T${withSeconds(time)}` }),
        bylineId,
      }) ?? []
    );
  }
}

/**
 * The new view with whatever did not change left as the same objects, so that only what changed is drawn
 * anew; a post that is known in a newer version than the answer holds stays as it is known.
 */
function settled(before: PlannerView, view: PlannerView): PlannerView {
  const known = new Map([...before.dated, ...before.pitches].map((p) => [p.id, p]));
  const keep = (post: PlannerCard): PlannerCard => {
    const old = known.get(post.id);
    if (!old || old.version < post.version) return post;
    return old.version > post.version ||
      (old.late === post.late && old.openNotes === post.openNotes && old.byline?.name === post.byline?.name)
      ? old
      : post;
  };
  const posts = [...view.dated, ...view.pitches].map(keep);
  return {
    ...view,
    dated: posts.filter(
      (p) =>
        p.stage !== 'pitch' &&
        p.runLocal !== null &&
        p.runLocal.slice(0, 10) >= view.from &&
        p.runLocal.slice(0, 10) <= view.to,
    ),
    pitches: posts.filter((p) => p.stage === 'pitch'),
  };
}
