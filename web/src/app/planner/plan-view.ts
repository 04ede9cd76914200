import type { PlannerCard, PlannerView } from '@keyroster/contract';
import {
  addDays,
  fillSlots,
  isoWeek,
  MONTHS,
  weekday,
  type PlannedPost,
  type SlotDate,
  type Stage,
} from '@keyroster/core';

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

/** Where a post stands for now, before the server has said so. */
export interface MoveTarget {
  stage: Stage;
  runLocal: string | null;
  byline: PlannerCard['byline'];
}

const planned = new WeakMap<PlannerCard, PlannedPost>();

/** A card as warnings see it; kept with the card, which never changes. */
export function plannedOf(post: PlannerCard): PlannedPost {
  let found = planned.get(post);
  if (!found) planned.set(post, (found = asPlanned(post)));
  return found;
}

export function asPlanned(post: PlannerCard): PlannedPost {
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
export const byRunTime = (a: PlannerCard, b: PlannerCard) => earlier(a.runLocal!, b.runLocal!) || a.id - b.id;

/** What the server said, with moves that are under way laid over it. */
export function withMoves(told: PlannerView, moves: ReadonlyMap<number, MoveTarget>): PlannerView {
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
}

/** The weeks of a view: day by day the posts that are shown, open slots, and pitches that want the day. */
export function weeksOf(view: PlannerView, shown: readonly PlannerCard[]): WeekView[] {
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
    if (pitch.dateConstraint.mustBeOn) put(pitch.dateConstraint.mustBeOn, { kind: 'dateConstraint', pitch });
  for (const post of shown) put(post.runLocal!.slice(0, 10), { kind: 'post', post });
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
}

/**
 * The new view with whatever did not change left as the same objects, so that only what changed is drawn
 * again; a post that is known in a newer version than the answer holds stays as it is known.
 */
export function settled(before: PlannerView, view: PlannerView): PlannerView {
  const known = new Map([...before.dated, ...before.pitches].map((p) => [p.id, p]));
  const keep = (post: PlannerCard): PlannerCard => {
    const old = known.get(post.id);
    if (!old || old.version < post.version) return post;
    return old.version > post.version ||
      (old.late === post.late &&
        old.openNotes === post.openNotes &&
        old.doneChores === post.doneChores &&
        old.reads === post.reads &&
        old.openChores.join() === post.openChores.join() &&
        old.byline?.name === post.byline?.name)
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
