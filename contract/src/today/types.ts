import type { ReviewKind, WallTime } from '@keyroster/core';
import type { PersonRef } from '../accounts/types.js';

/** A post that waits for somebody to read it. */
export interface ReviewItem {
  kind: ReviewKind;
  postId: number;
  title: string;
  categoryId: number | null;
  words: number;
  /** Who brought it to where it waits; null for the clock. */
  by: PersonRef | null;
  /** Since when it waits. */
  since: WallTime;
  /** What they said with it; empty when they said nothing. */
  word: string;
  /** When it is to run; null without a time, and for what is out already. */
  runLocal: WallTime | null;
  late: boolean;
  /** What is missing before it goes on, in a few words each. */
  missing: string[];
}
export interface ReviewView {
  /** In the order in which they are to be read. */
  items: ReviewItem[];
}
