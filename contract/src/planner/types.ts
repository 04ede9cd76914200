import type {
  Absence,
  Instant,
  Need,
  PlanTask,
  Rhythm,
  Runway,
  SlotDate,
  SlotRule,
  Stage,
} from '@keyroster/core';
import type { PersonRef } from '../accounts/types.js';
import type { Versioned } from '../versioned.js';
import type { ChoreItem } from '../checklists/types.js';
import type { PostCard } from '../posts/types.js';

export interface WriterRef extends PersonRef {
  capacity: number | null;
}

export interface PlannerQuery {
  /** First day, `YYYY-MM-DD`; the week's first day is taken. */
  from?: string;
  weeks?: number;
}

/** A post as the planner draws it. */
export interface PlannerCard extends Omit<
  PostCard,
  'slug' | 'runZone' | 'runAt' | 'updatedAt' | 'releasedAt'
> {
  /** What its checklist still asks for, what is due first before the rest. */
  openChores: string[];
  doneChores: number;
  /** Of a published post, for those who see results. */
  reads: number | null;
}

/** Requests a few cards again, by id. */
export interface CardsQuery {
  ids: number[];
}

/** The weeks and the tray, as screens and programs use them. */
export interface PlannerView {
  from: string;
  to: string;
  today: string;
  nowLocal: string;
  /** Posts with a run time in the span, in order of run time. */
  dated: PlannerCard[];
  slots: SlotDate[];
  /** Absences that touch the time from today to the end of the span, or the span. */
  absences: Absence[];
  /** Everybody who may be credited, with the posts a week that fit. */
  writers: WriterRef[];
  pitches: PlannerCard[];
  /** Every late post, in the span or not. */
  late: PlannerCard[];
  /** What begins to stand on top of the front page, and on which day of the span. */
  onTop: OnTop[];
}
/** A post that is held on top, or whose turn it is for a week. */
export interface OnTop {
  date: string;
  postId: number;
  title: string;
  until: string;
}

/** Posts that are late past hope, to be put back into the tray together. */
export interface Sweep {
  postIds: number[];
}

export interface Swept {
  sentence: string;
  /** The batch that the sweep is; undoing it puts every post back where it was. */
  batchId: number;
}

/** The days that a plan is made for. */
export interface PlanQuery {
  from: string;
  to: string;
}

/** Parts of a plan that are accepted: posts, each into a slot (see `slotKey`) by a writer. */
export interface AcceptPlan {
  task: PlanTask;
  places: { postId: number; slot: string; writerId: number }[];
  /** Those that no longer fit are left out, and the others changed. */
  leaveMisfits: boolean;
}

export interface PlanMisfit {
  postId: number;
  title: string;
  why: string;
}

export interface PlanAccepted {
  sentence: string;
  /** The batch that it is; null where nothing was changed. */
  batchId: number | null;
  /** What no longer fits. */
  misfits: PlanMisfit[];
}

export interface RunwayView {
  today: string;
  runway: Runway;
  headline: string;
  detail: string;
  /** Posts waiting on the desk of the person who asks. */
  onDesk: number;
}

export interface MentionItem {
  noteId: number;
  postId: number;
  title: string;
  by: PersonRef;
  at: Instant;
  text: string;
}

/** An absence in which posts lie that are not ready. */
export interface AwayItem {
  absenceId: number;
  person: PersonRef;
  from: string;
  to: string;
  posts: { id: number; title: string; runLocal: string }[];
}

export interface TodayView {
  today: string;
  needs: Need[];
  /** What the requester has to cover, the soonest first. */
  away: AwayItem[];
  /** Open chores that are one’s own, the soonest first. */
  chores: ChoreItem[];
  /** Notes that mention the person and that they have not seen, the newest first. */
  mentions: MentionItem[];
  openSlots: SlotDate[];
  lately: { postId: number; title: string; slug: string | null; releasedLocal: string }[];
}

/** A standing slot as it is entered. */
export interface NewSlot extends SlotRule {
  categoryId: number;
  format: string;
}

/** Asks what storing a slot (new, or in place of `id`), or removing it (`slot` null), would do. */
export interface SlotQuestion {
  id: number | null;
  slot: NewSlot | null;
}

export interface SlotAnswer {
  /** What would happen, in words. */
  sentence: string;
  /** Its coming dates. */
  dates: { date: string; movedTo: string | null; skipped: boolean }[];
  /**
   * Posts that would stand in no slot any more, and posts that would stand in one again. They keep their run
   * times.
   */
  loses: SlotPost[];
  gains: SlotPost[];
}

export interface SlotPost {
  id: number;
  title: string;
  runLocal: string;
  stage: Stage;
}

export interface NewAbsence {
  personId: number;
  from: string;
  to: string;
  note: string;
}

export interface AbsenceChanges {
  from?: string;
  to?: string;
  note?: string;
}

export interface AbsenceView extends Absence, Versioned {
  person: PersonRef;
  /** May the person who asks change it? */
  mine: boolean;
}

/** Several pitches at once, all or none. */
export interface PitchList {
  titles: string[];
  categoryId: number | null;
}

export interface PitchesKept {
  sentence: string;
  ids: number[];
}

/** A pitch and the post or pitch that it resembles most. */
export interface PitchAlike {
  id: number;
  alike: { id: number; title: string; stage: Stage; runLocal: string | null };
  /** 0 to 1 */
  score: number;
  shared: string[];
}

export interface RhythmView {
  rhythm: Rhythm;
  runway: Runway;
  /** How even the last and the next weeks are, in words. */
  past: string;
  ahead: string;
  /** Open slots to come within the next 13 weeks. */
  gaps: SlotDate[];
}

/** The run list as a table for other programs: the same span and filters as the screen. */
export interface RunListQuery extends PlannerQuery {
  category?: number;
  person?: number;
  stage?: Stage;
}

export const CALENDARS = ['runs', 'copy'] as const;
/** `runs`: every post by its run time. `copy`: one person’s copy dates. */
export type CalendarKind = (typeof CALENDARS)[number];

export interface NewCalendar {
  kind: CalendarKind;
}

export interface CalendarView {
  id: number;
  kind: CalendarKind;
  person: PersonRef;
  madeAt: string;
  lastReadAt: string | null;
  mine: boolean;
}

/** Only when it is made is the address known; what is kept cannot be turned back into it. */
export interface CalendarMade extends CalendarView {
  address: string;
}

export interface FindQuery {
  words: string;
}

export interface Found {
  posts: { id: number; title: string; stage: PostCard['stage']; byline: string | null }[];
  people: { id: number; name: string; role: string }[];
}
