import type { Assignee, ChoreRule } from '@keyroster/core';
import type { PersonRef } from '../accounts/types.js';
import type { Versioned } from '../versioned.js';

/** A checklist that posts get by their format or category, or by hand. */
export interface NewChecklist {
  name: string;
  formats: number[];
  categories: number[];
  items: (ChoreRule & { id: number | null })[];
}
export interface ChecklistView extends NewChecklist {
  id: number;
  version: number;
}

/** One chore of a post. */
export interface ChoreView extends Versioned {
  id: number;
  /** The checklist that it comes from; null: put here by hand. */
  checklist: string | null;
  text: string;
  assignee: Assignee;
  /** Whose it is now; null while the post has nobody for it. */
  person: PersonRef | null;
  daysBefore: number;
  /** `YYYY-MM-DD`; null while the post has no run time. */
  due: string | null;
  holds: boolean;
  done: boolean;
  doneBy: PersonRef | null;
  rights: { tick: boolean; change: boolean };
}

export interface NewChore {
  /** All items of this checklist … */
  checklistId?: number;
  /** … or one chore. */
  chore?: ChoreRule;
}

export interface ChoreChanges {
  done?: boolean;
  text?: string;
  assignee?: Assignee;
  personId?: number | null;
  daysBefore?: number;
  holds?: boolean;
}

/** A chore that is one's own, for Today. */
export interface ChoreItem {
  id: number;
  postId: number;
  title: string;
  text: string;
  due: string | null;
  holds: boolean;
}
