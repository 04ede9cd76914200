import { absenceOn } from '../planning/load.js';
import { fillSlots } from '../slots/filling.js';
import type { SlotDate } from '../slots/slots.js';
import type { Stage } from '../stages/stages.js';
import { addDays } from '../time/zone.js';
import type { ExplainedPlacing } from './explain.js';
import { eveOf, type PlanFacts, type PlanPost } from './facts.js';
import { slotKey } from './problem.js';

export type CoverDeed = 'commission' | 'hand in' | 'clear' | 'schedule';

/** Something that has to be done for a post before the days begin. */
export interface CoverStep {
  deed: CoverDeed;
  /** Last day for it, `YYYY-MM-DD`. */
  by: string;
  /** The writer whose deed it is; null: the desk's. */
  writerId: number | null;
  /** Its day has gone by. */
  late: boolean;
}

/** One run time of the days that are covered. */
export interface CoverLine {
  date: string;
  time: string;
  slot: SlotDate | null;
  /** What runs then: a post, or a pitch that the plan puts there; null while the slot stays open. */
  post: { id: number; title: string; stage: Stage; writerId: number | null } | null;
  /** In the order in which they fall due; empty when it is scheduled. */
  steps: CoverStep[];
}

const DEEDS: Partial<Record<Stage, readonly CoverDeed[]>> = {
  pitch: ['commission', 'hand in', 'clear', 'schedule'],
  commissioned: ['hand in', 'clear', 'schedule'],
  drafting: ['hand in', 'clear', 'schedule'],
  'in review': ['clear', 'schedule'],
  cleared: ['schedule'],
};

/**
 * What must be ready by when, and by whom, so that all that runs from `from` to `to` is scheduled before those
 * days begin: the posts on those days, and what `placings` puts into the slots that are open.
 */
export function coverLines(
  facts: PlanFacts,
  { from, to }: { from: string; to: string },
  placings: readonly ExplainedPlacing[],
): CoverLine[] {
  const within = (date: string) => date >= from && date <= to;
  const titles = new Map(facts.pitches.map((p) => [p.id, p.title]));
  const bySlot = new Map(placings.map((p) => [p.slot, p]));
  const { slots, extra } = fillSlots(facts.slots, facts.posts);
  const lines: CoverLine[] = [];
  const line = (date: string, time: string, slot: SlotDate | null, post: PlanPost | null) => {
    if (!within(date)) return;
    const placing = post === null && slot ? bySlot.get(slotKey(slot)) : undefined;
    const stage = post?.stage ?? 'pitch';
    const writerId = post?.bylineId ?? placing?.writerId ?? null;
    lines.push({
      date,
      time,
      slot,
      post:
        post || placing
          ? {
              id: post?.id ?? placing!.pitchId,
              title: post?.title ?? titles.get(placing!.pitchId) ?? '',
              stage,
              writerId,
            }
          : null,
      steps: post || placing ? stepsOf(facts, from, stage, writerId) : [],
    });
  };
  for (const { slot, post } of slots)
    line(post?.runLocal.slice(0, 10) ?? slot.date, post?.runLocal.slice(11, 16) ?? slot.time, slot, post);
  for (const post of extra) line(post.runLocal.slice(0, 10), post.runLocal.slice(11, 16), null, post);
  return lines.sort((a, b) => `${a.date}${a.time}`.localeCompare(`${b.date}${b.time}`));
}

function stepsOf(facts: PlanFacts, from: string, stage: Stage, writerId: number | null): CoverStep[] {
  const { today, absences, review } = facts;
  const eve = eveOf(from, today);
  let copy = addDays(eve, -review.days);
  // Not on a day on which the writer is away: the last one before.
  for (let away = writerId === null ? null : absenceOn(absences, writerId, copy); away;) {
    copy = addDays(away.from, -1);
    away = absenceOn(absences, writerId!, copy);
  }
  const by: Record<CoverDeed, string> = { commission: today, 'hand in': copy, clear: eve, schedule: eve };
  return (DEEDS[stage] ?? []).map((deed) => ({
    deed,
    by: by[deed],
    writerId: deed === 'hand in' ? writerId : null,
    late: by[deed] < today,
  }));
}
