import { isReady, type Stage } from '../stages/stages.js';
import { addDays } from '../time/zone.js';
import { formatCount, formatShortDate } from '../time/format.js';
import { fillSlots, type DatedPost } from '../slots/filling.js';
import { slotDates, type SlotDate, type StandingSlot } from '../slots/slots.js';

/** A post as runway and lateness see it. */
export interface RunwayPost extends DatedPost {
  stage: Stage;
  /** `YYYY-MM-DD`, when the text is due. */
  copyDate: string | null;
}

export type DayState = 'ready' | 'under way' | 'open' | 'late' | 'none';

export interface RunwayDay {
  date: string;
  state: DayState;
  /** Posts with a run time on this day. */
  posts: number;
  open: SlotDate[];
}

export interface Runway {
  /** The last ready day before the first slot that is not ready; null when the very next slot is a hole. */
  coveredTo: string | null;
  days: RunwayDay[];
  readyDays: number;
  openSlots: number;
  late: number;
}

/**
 * Is a post late? Its copy date has passed and it was not handed in, or its run time has passed and it is not
 * out. `nowLocal` is the blog's wall time.
 */
export function isLate(
  post: { stage: Stage; runLocal: string | null; copyDate: string | null },
  nowLocal: string,
): boolean {
  if (post.stage === 'published' || post.stage === 'withdrawn' || post.stage === 'pitch') return false;
  const unwritten = post.stage === 'commissioned' || post.stage === 'drafting';
  if (unwritten && post.copyDate !== null && post.copyDate < nowLocal.slice(0, 10)) return true;
  return post.runLocal !== null && post.runLocal < nowLocal && post.stage !== 'scheduled';
}

/**
 * How far the calendar is covered, over `length` days from today.
 * A day is late if any post on it is late; else open if a slot of it still to come has no post; else under
 * way if any post on it is not yet cleared; else ready. Covered is counted over slot dates from now on, in
 * order: the cover ends at the first one whose post is missing or not ready. Slots of today whose time has
 * passed no longer count.
 */
export function runway(input: {
  posts: readonly RunwayPost[];
  slots: readonly StandingSlot[];
  nowLocal: string;
  length?: number;
}): Runway {
  const { posts, slots, nowLocal, length = 21 } = input;
  const today = nowLocal.slice(0, 10);
  const last = addDays(today, length - 1);
  const inSpan = posts.filter(
    (p) => p.runLocal.slice(0, 10) >= today && p.runLocal.slice(0, 10) <= last && p.stage !== 'withdrawn',
  );
  const filling = fillSlots(slotDates(slots, today, last), inSpan);
  const stillToCome = (s: SlotDate) => `${s.date}T${s.time}:00` >= nowLocal;
  const open = filling.slots.filter((f) => f.post === null && stillToCome(f.slot)).map((f) => f.slot);

  const days: RunwayDay[] = [];
  for (let date = today; date <= last; date = addDays(date, 1)) {
    const here = inSpan.filter((p) => p.runLocal.startsWith(date));
    const openHere = open.filter((s) => s.date === date);
    const state: DayState = here.some((p) => isLate(p, nowLocal))
      ? 'late'
      : openHere.length > 0
        ? 'open'
        : here.length === 0
          ? 'none'
          : here.every((p) => isReady(p.stage))
            ? 'ready'
            : 'under way';
    days.push({ date, state, posts: here.length, open: openHere });
  }

  let coveredTo: string | null = null;
  for (const { slot, post } of filling.slots) {
    if (post ? isReady(post.stage) : !stillToCome(slot)) {
      if (post) coveredTo = slot.date;
    } else break;
  }
  return {
    coveredTo,
    days,
    readyDays: days.filter((d) => d.state === 'ready').length,
    openSlots: open.length,
    late: posts.filter((p) => isLate(p, nowLocal)).length,
  };
}

/** The strip's sentence and the line under it. */
export function formatRunway(r: Runway): { headline: string; detail: string } {
  return {
    headline: r.coveredTo ? `Covered to ${formatShortDate(r.coveredTo)}` : 'Not covered yet',
    detail: [
      formatCount(r.readyDays, 'day') + ' ready',
      formatCount(r.openSlots, 'open slot'),
      r.late ? `${r.late} late` : 'none late',
    ].join(' · '),
  };
}
