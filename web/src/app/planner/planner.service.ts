import { Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import {
  unpackCards,
  unpackPlanner,
  type LiveEvent,
  type PlannerCard,
  type PlannerView,
} from '@keyroster/contract';
import { isHopeless, NO_DATE_CONSTRAINT, PlanJudge, type Absence, type PlanWarning } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { asPlanned, byRunTime, plannedOf, settled, weeksOf, withMoves, type MoveTarget } from './plan-view';

/** Which of the dated posts are shown; slots and warnings always count all of them. */
export interface PlannerFilter {
  categoryId: number | null;
  personId: number | null;
  stage: string | null;
}

/** What an answer about a post does not say: of chores and reads it is as it was known. */
type Known = 'openChores' | 'doneChores' | 'reads';
const NOT_KNOWN: Pick<PlannerCard, Known> = { openChores: [], doneChores: 0, reads: null };
export type TakenCard = Omit<PlannerCard, Known> & Partial<Pick<PlannerCard, Known>>;

/** What of a card changes without a new version of its post. */
const beside = ({ openNotes, late, openChores, doneChores, reads }: PlannerCard) =>
  JSON.stringify([openNotes, late, openChores, doneChores, reads]);

const DEFAULT_TIME = '08:00';
/** More changes at once are fetched as a whole. */
const MAX_CARDS_ASKED = 40;

export const withSeconds = (time: string) => (time.length === 5 ? `${time}:00` : time);

/**
 * The weeks and the tray as they stand: what the server said, with moves that are under way laid over it.
 * Components show this; they decide nothing.
 */
@Injectable()
export class PlannerService {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  private readonly received = signal<PlannerView | null>(null);
  /** By post: where it is drawn until the server has confirmed its move. */
  readonly underWay = signal<ReadonlyMap<number, MoveTarget>>(new Map());
  readonly error = signal('');
  readonly filter = signal<PlannerFilter>({ categoryId: null, personId: null, stage: null });
  private span: { from?: string; weeks: number } = { weeks: 4 };

  readonly view = computed((): PlannerView | null => {
    const received = this.received();
    const moves = this.underWay();
    return received && moves.size > 0 ? withMoves(received, moves) : received;
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
   * waiting for the others to be judged again.
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
      // The same words are the same object, so that a card whose warnings are the same is not drawn again.
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

  readonly weeks = computed(() => {
    const view = this.view();
    return view ? weeksOf(view, this.shown()) : [];
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
        this.received.update((before) => (before ? settled(before, view) : view));
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  /** Fetches again what changed: a few cards alone, or everything. */
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
          (known.version === card.version && beside(known) !== beside(card))
        )
          this.receive(card);
      }
      if (cards.length < asked.length) await this.refresh();
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  private known(id: number): PlannerCard | undefined {
    const received = this.received();
    return received?.dated.find((p) => p.id === id) ?? received?.pitches.find((p) => p.id === id);
  }

  /** The card as it stands by now. */
  newest(post: TakenCard): PlannerCard {
    return this.known(post.id) ?? { ...NOT_KNOWN, ...post };
  }

  /** Takes what the server answered about one post, without fetching the rest again. */
  receive(taken: TakenCard): void {
    const received = this.received();
    if (!received) return;
    const { openChores, doneChores, reads } = this.known(taken.id) ?? NOT_KNOWN;
    const post: PlannerCard = { openChores, doneChores, reads, ...taken };
    const others = (list: PlannerCard[]) => list.filter((p) => p.id !== post.id);
    const inSpan =
      post.runLocal !== null &&
      post.runLocal.slice(0, 10) >= received.from &&
      post.runLocal.slice(0, 10) <= received.to;
    this.received.set({
      ...received,
      dated:
        post.stage !== 'pitch' && inSpan
          ? [...others(received.dated), post].sort(byRunTime)
          : others(received.dated),
      pitches: post.stage === 'pitch' ? [...others(received.pitches), post] : others(received.pitches),
      late:
        received.late.some((p) => p.id === post.id) || post.late
          ? post.late
            ? [...others(received.late), post]
            : others(received.late)
          : received.late,
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
