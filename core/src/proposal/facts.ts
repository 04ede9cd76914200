import type { Absence } from '../planning/load.js';
import { fillSlots } from '../slots/filling.js';
import type { SlotDate } from '../slots/slots.js';
import { isReady, type Stage } from '../stages/stages.js';
import { addDays } from '../time/zone.js';
import {
  slotKey,
  type LeadTime,
  type Problem,
  type ProposalPitch,
  type ProposalWriter,
  type Wishes,
} from './problem.js';

/** A post on the calendar, as plans see it. */
export interface PlanPost {
  id: number;
  title: string;
  stage: Stage;
  runLocal: string;
  copyDate: string | null;
  categoryId: number | null;
  secondCategoryId: number | null;
  format: string;
  bylineId: number | null;
  tagIds: readonly number[];
  /** May the requester give it another date or writer? */
  mine: boolean;
}

/** What is known of the newsroom, for weeks and some days on either side. */
export interface PlanFacts {
  today: string;
  nowLocal: string;
  firstWeekday: number;
  /** All slot dates of the weeks, filled or open. */
  slots: readonly SlotDate[];
  /** Posts with a run time there; withdrawn ones left out. */
  posts: readonly PlanPost[];
  pitches: readonly ProposalPitch[];
  writers: readonly ProposalWriter[];
  absences: readonly Absence[];
  review: LeadTime;
  /** Categories that the requester may plan; null: all. */
  deskFor: readonly number[] | null;
  categories: readonly { id: number; name: string }[];
}

/** What is planned: open slots filled; days covered before they begin; what to do when a writer drops out. */
export type PlanTask =
  | { kind: 'fill'; from: string; to: string }
  | { kind: 'cover'; from: string; to: string }
  | { kind: 'without'; writerId: number; from: string; to: string };

const fixedOf = ({ id, runLocal, categoryId, bylineId, tagIds }: PlanPost) => ({
  id,
  date: runLocal.slice(0, 10),
  categoryId,
  bylineId,
  tagIds,
});

const isAhead = ({ nowLocal }: PlanFacts, slot: SlotDate) => `${slot.date}T${slot.time}:00` > nowLocal;

/** The last day before some days begin; today, when they have begun. */
export const eveOf = (from: string, today: string): string => (from > today ? addDays(from, -1) : today);

/** The slots of some days that are open and still to come. */
export function openSlots(facts: PlanFacts, from: string, to: string): SlotDate[] {
  return fillSlots(facts.slots, facts.posts)
    .slots.filter(({ post, slot }) => post === null && slot.date >= from && slot.date <= to)
    .map(({ slot }) => slot)
    .filter((slot) => isAhead(facts, slot) && (facts.deskFor?.includes(slot.categoryId) ?? true));
}

/** The problem that a task means, as things stand. */
export function problemFor(facts: PlanFacts, task: PlanTask, wishes: Wishes): Problem {
  const { today, firstWeekday, pitches, writers, absences, review, categories } = facts;
  const shared = { today, firstWeekday, absences, review, categories, wishes, wanted: facts.slots };
  if (task.kind === 'without') return { ...shared, ...dropOut(facts, task) };
  return {
    ...shared,
    slots: openSlots(facts, task.from, task.to),
    pitches,
    writers,
    fixed: facts.posts.map(fixedOf),
    clearedBy: task.kind === 'cover' ? eveOf(task.from, today) : null,
  };
}

/** May its date or its writer still be changed for others' sake? */
const isMovable = (stage: Stage) => stage === 'commissioned' || stage === 'drafting';

/**
 * The writer's posts that are not ready, and those of others that are only begun, are what may move: each as
 * a pitch that stands where it stands. What they keep is worth so much that a plan which keeps more posts is
 * always better, and of those that keep as many the one with the fewest changes.
 */
function dropOut(
  facts: PlanFacts,
  { writerId, from, to }: Extract<PlanTask, { kind: 'without' }>,
): Pick<Problem, 'slots' | 'pitches' | 'writers' | 'fixed' | 'clearedBy'> {
  const filling = fillSlots(facts.slots, facts.posts);
  const slotOf = new Map(filling.slots.flatMap(({ slot, post }) => (post ? [[post.id, slot] as const] : [])));
  const within = (post: PlanPost) =>
    post.runLocal > facts.nowLocal && post.runLocal.slice(0, 10) >= from && post.runLocal.slice(0, 10) <= to;
  const loses = (post: PlanPost) => post.bylineId === writerId && !isReady(post.stage);
  const moving = facts.posts.filter((p) => p.mine && within(p) && (loses(p) || isMovable(p.stage)));
  // A post that fills no slot has a place of its own, which is nobody else's.
  const placeOf = (post: PlanPost): SlotDate =>
    slotOf.get(post.id) ?? {
      slotId: -post.id,
      date: post.runLocal.slice(0, 10),
      time: post.runLocal.slice(11, 16),
      categoryId: post.categoryId ?? -post.id,
      format: post.format,
      movedFrom: null,
    };
  const slots = [...openSlots(facts, from, to), ...moving.map(placeOf)];
  return {
    slots: slots.sort(
      (a, b) => `${a.date}${a.time}`.localeCompare(`${b.date}${b.time}`) || a.slotId - b.slotId,
    ),
    pitches: moving.map((post) => ({
      id: post.id,
      title: post.title,
      // In its own place it stands, whatever the slot's category is.
      categoryId: placeOf(post).categoryId,
      secondCategoryId: post.categoryId,
      format: post.format,
      tagIds: post.tagIds,
      dateConstraint: { notBefore: null, notAfter: null, mustBeOn: null },
      rating: null,
      since: facts.today,
      bylineId: null,
      pitchedById: null,
      stands: { slot: slotKey(placeOf(post)), writerId: post.bylineId },
    })),
    writers: facts.writers.filter((w) => w.id !== writerId),
    fixed: facts.posts.filter((p) => !moving.includes(p) && p.bylineId !== writerId).map(fixedOf),
    clearedBy: null,
  };
}
