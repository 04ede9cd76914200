import type { Absence } from '../planning/load.js';
import type { DateConstraint } from '../planning/date-constraint.js';
import type { SlotDate } from '../slots/slots.js';

/** A pitch that may be put into a slot. */
export interface ProposalPitch {
  id: number;
  title: string;
  categoryId: number | null;
  secondCategoryId: number | null;
  format: string;
  tagIds: readonly number[];
  dateConstraint: DateConstraint;
  /** 1 to 5, or null while nobody rated it. */
  rating: number | null;
  /** Date on which it came to the tray, `YYYY-MM-DD`. */
  since: string;
  /** Who is to write it, when that is decided; nobody else is proposed then. */
  bylineId: number | null;
  /** Who pitched it. */
  pitchedById: number | null;
  /** Posts that are on the calendar already and may be moved: where it stands. See `dropOut`. */
  stands?: { slot: string; writerId: number | null };
}

/** Days that something takes, and how many posts that rests on; 0: on none, it is what is usual. */
export interface LeadTime {
  days: number;
  count: number;
}

/** Somebody who may be given a post. */
export interface ProposalWriter {
  id: number;
  name: string;
  /** Posts a week, or null when nobody said: then the week is never full. */
  capacity: number | null;
  /** Categories they write; none given: any. */
  categoryIds: readonly number[];
  /** From commission to copy. */
  leadTime: LeadTime;
  /** Posts of theirs that were released, by category. */
  wrote: readonly { categoryId: number; count: number }[];
}

/** A post that is on the calendar and stays there. */
export interface FixedPost {
  id: number;
  /** `YYYY-MM-DD` */
  date: string;
  categoryId: number | null;
  bylineId: number | null;
  tagIds: readonly number[];
}

/** This pitch in this slot by this writer. */
export interface Placing {
  pitchId: number;
  /** See `slotKey`. */
  slot: string;
  writerId: number;
}

/** What the editor decided about the plan beforehand. */
export interface Wishes {
  /** Has to be as it says. */
  pinned: readonly Placing[];
  /** Never: a pitch anywhere, a slot, a writer, or one placing. */
  excluded: {
    pitches: readonly number[];
    slots: readonly string[];
    writers: readonly number[];
    placings: readonly Placing[];
  };
}

export const NO_WISHES: Wishes = {
  pinned: [],
  excluded: { pitches: [], slots: [], writers: [], placings: [] },
};

/** All that a plan is made from. */
export interface Problem {
  today: string;
  firstWeekday: number;
  /** Open slots of the chosen days, in order of time. */
  slots: readonly SlotDate[];
  pitches: readonly ProposalPitch[];
  writers: readonly ProposalWriter[];
  absences: readonly Absence[];
  /** Posts on the calendar, also of the weeks before and after, as far as they are near. */
  fixed: readonly FixedPost[];
  /** All slot dates of the same weeks, filled or open: how many posts of a category are wanted in a week. */
  wanted: readonly SlotDate[];
  /** From copy to cleared. */
  review: LeadTime;
  /** The last day on which everything has to be cleared; null: each post the day before it runs. */
  clearedBy: string | null;
  categories: readonly { id: number; name: string }[];
  wishes: Wishes;
}

/** Names one date of a standing slot; the date that the rule gives, so that a moved slot keeps its key. */
export const slotKey = (slot: Pick<SlotDate, 'slotId' | 'date' | 'movedFrom'>): string =>
  `${slot.slotId}|${slot.movedFrom ?? slot.date}`;
