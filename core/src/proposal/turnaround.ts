import type { LeadTime } from './problem.js';
import { daysBetween } from '../time/zone.js';

/** How one post went from hand to hand; dates `YYYY-MM-DD` in the blog's zone, null where it did not. */
export interface Turnaround {
  bylineId: number | null;
  commissioned: string | null;
  copyDue: string | null;
  /** First handed in. */
  handedIn: string | null;
  /** First cleared. */
  cleared: string | null;
}

/** How much of something there was, and of how many. */
export interface Share {
  of: number;
  count: number;
}

export interface WriterPace {
  /** From commission to copy. */
  write: LeadTime;
  /** Copy handed in on its date or before. */
  onTime: Share;
  /** From copy to cleared, of this writer's posts. */
  review: LeadTime;
}

/** Fewer than this say nothing of what is typical. */
const FEWEST = 3;

/**
 * What is usual where nobody's figures say: about a week from commission to release, of which two days are the
 * editor's (common practice, no published source).
 */
export const USUAL: { write: LeadTime; review: LeadTime } = {
  write: { days: 5, count: 0 },
  review: { days: 2, count: 0 },
};

/** The middle one; of two in the middle the greater, so that a plan does not count on the quicker. */
function median(days: readonly number[]): number {
  return [...days].sort((a, b) => a - b)[Math.floor(days.length / 2)]!;
}

const typical = (days: readonly number[], otherwise: LeadTime): LeadTime =>
  days.length < FEWEST ? otherwise : { days: median(days), count: days.length };

const between = (from: string | null, to: string | null): number[] =>
  from === null || to === null || to < from ? [] : [daysBetween(from, to)];

/** The blog's own pace, and each writer's where there is enough to tell; the median in days. */
export function paceOf(turnarounds: readonly Turnaround[]): {
  blog: { write: LeadTime; review: LeadTime };
  of: (writerId: number) => WriterPace;
} {
  const writing = (list: readonly Turnaround[]) => list.flatMap((t) => between(t.commissioned, t.handedIn));
  const reviewing = (list: readonly Turnaround[]) => list.flatMap((t) => between(t.handedIn, t.cleared));
  const blog = {
    write: typical(writing(turnarounds), USUAL.write),
    review: typical(reviewing(turnarounds), USUAL.review),
  };
  return {
    blog,
    of: (writerId) => {
      const own = turnarounds.filter((t) => t.bylineId === writerId);
      const due = own.filter((t) => t.copyDue !== null && t.handedIn !== null);
      return {
        write: typical(writing(own), { days: blog.write.days, count: 0 }),
        review: typical(reviewing(own), { days: blog.review.days, count: 0 }),
        onTime: { of: due.filter((t) => t.handedIn! <= t.copyDue!).length, count: due.length },
      };
    },
  };
}
