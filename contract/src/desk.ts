import type { BodyNode, BringInReport, Instant, Passage, Stage } from '@keyroster/core';
import type { PersonRef } from './accounts.js';

export interface NewBody {
  body: BodyNode;
}

export interface BodyStored {
  version: number;
  words: number;
  /** The first text of a commissioned post starts the draft. */
  stage: Stage;
}

export interface BroughtInView {
  title: string | null;
  excerpt: string | null;
  body: BodyNode;
  report: BringInReport;
  /** One line for the person, made from the report. */
  sentence: string;
}

export interface NoteView {
  id: number;
  postId: number;
  parentId: number | null;
  by: PersonRef;
  text: string;
  passage: Passage | null;
  at: Instant;
  settledAt: Instant | null;
  settledBy: PersonRef | null;
}

export interface NewNote {
  text: string;
  passage?: Passage | null;
  parentId?: number | null;
}

export interface NoteChanges {
  settled: boolean;
}

export interface MediaView {
  id: number;
  src: string;
  type: string;
  width: number;
  height: number;
  size: number;
}
