import type { CoverLine, Explanation, PlanChange, PlanFacts, PlanTask, Wishes } from '@keyroster/core';

/** What the planner asks its worker for. */
export interface PlanAsked {
  facts: PlanFacts;
  task: PlanTask;
  wishes: Wishes;
  /** How long it may look, in milliseconds. */
  ms: number;
}

/** A plan as the screen shows it. */
export interface PlanFound {
  explanation: Explanation;
  /** Open slots that there were to fill. */
  slots: number;
  /** What changes for posts on the calendar, when a writer drops out. */
  changes: PlanChange[];
  /** What has to be ready by when, when days are covered. */
  lines: CoverLine[];
}

/** What the worker tells, as often as the plan or the proof gets better. */
export interface PlanTold {
  /** Null where only the proof got better. */
  found: PlanFound | null;
  gap: number;
  optimal: boolean;
  /** It looks no further. */
  done: boolean;
}
