import type { Need, Runway, SlotDate } from '@keyroster/core';
import type { PostCard } from './posts.js';

export interface PlannerQuery {
  /** First day, `YYYY-MM-DD`; the week's first day is taken. */
  from?: string;
  weeks?: number;
}

export interface PlannerView {
  from: string;
  to: string;
  today: string;
  nowLocal: string;
  /** Posts with a run time in the span. */
  dated: PostCard[];
  slots: SlotDate[];
  pitches: PostCard[];
  /** Every late post, in the span or not. */
  late: PostCard[];
}

/** Posts that are late past hope, to be put back into the tray together. */
export interface Sweep {
  postIds: number[];
}

export interface Swept {
  sentence: string;
  posts: { id: number; version: number }[];
}

export interface RunwayView {
  today: string;
  runway: Runway;
  headline: string;
  detail: string;
  /** Posts waiting on the desk of the person who asks. */
  onDesk: number;
}

export interface TodayView {
  today: string;
  needs: Need[];
  openSlots: SlotDate[];
  lately: { postId: number; title: string; address: string | null; releasedLocal: string }[];
}

export interface NewSlot {
  weekday: number;
  time: string;
  categoryId: number;
}

export interface FindQuery {
  words: string;
}

export interface Found {
  posts: { id: number; title: string; stage: PostCard['stage']; byline: string | null }[];
  people: { id: number; name: string; role: string }[];
}
