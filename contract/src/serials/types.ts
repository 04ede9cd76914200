import type { Delay, Instant, PartDue, Stage, WallTime } from '@keyroster/core';

export interface SerialPartView {
  postId: number;
  title: string;
  stage: Stage;
  delay: Delay;
  /** Of published parts: readers who have it by now, and for how many it is the newest they have. */
  have: number;
  newest: number;
}

export interface SerialView {
  id: number;
  version: number;
  title: string;
  intro: string;
  parts: SerialPartView[];
  /** First visits to the blog that were counted. */
  visits: number;
  /** What is odd about it, a sentence each. */
  warnings: string[];
}

export interface NewSerial {
  title: string;
  intro: string;
}
export interface SerialChanges extends NewSerial {
  parts: { postId: number; delay: Delay }[];
  /** What readers have and would lose was read, and it is to be so. */
  accepting: boolean;
}
export interface FirstVisit {
  /** By the blog's clock. */
  firstVisit: WallTime;
  /** What is looked at. */
  page: 'front' | 'part';
  /** The part, with `part`. */
  postId: number | null;
}
/** The blog as a reader has it who came first at a time. */
export interface SeenAs {
  firstVisit: Instant;
  parts: PartDue[];
  html: string;
}
