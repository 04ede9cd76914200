import type { BodyNode, PieceKind, Stage } from '@keyroster/core';
import type { PersonRef } from '../accounts/types.js';

/** A post as it was kept at one time. */
export interface VersionView {
  version: number;
  at: string;
  /** Null for the clock. */
  by: PersonRef | null;
  /** What changed with it, in words; empty in the first. */
  changed: string[];
  /** How it stood then. */
  stage: Stage;
  /** Did it come to this stage with it? */
  moved: boolean;
  words: number;
  /** What somebody called it; empty for most. */
  name: string;
  /** The version that was restored with it. */
  restored: number | null;
  /** The file, or the writing tool, that its text came from; null when it was written here. */
  imported: string | null;
  /** Were the changes published with it? */
  updated: boolean;
}

/** Says that the text one put in last came from a file. */
export interface Imported {
  file: string;
}

export interface VersionsQuery {
  /** Only versions before this one. */
  before?: number;
  limit?: number;
}
export interface VersionsView {
  /** The newest first. */
  versions: VersionView[];
  /** There are older ones. */
  more: boolean;
  /** The version that the person who asks read the last time they had the post open, before this time. */
  lastRead: number | null;
  /** The version that readers see, where it is not the one that stands. */
  readersSee: number | null;
}

export interface ComparisonQuery {
  from: number;
  to: number;
}
/** A detail that differs between two versions, in words. */
export interface DetailDifference {
  name: string;
  was: string;
  becomes: string;
}
export interface ComparisonView {
  from: VersionView;
  to: VersionView;
  /** The version that stands. */
  current: number;
  details: DetailDifference[];
  before: BodyNode;
  after: BodyNode;
}

export interface VersionName {
  version: number;
  name: string;
}

/** Blocks of a text, from one up to another. */
export interface BlockRange {
  from: number;
  to: number;
}
export interface Restoring {
  version: number;
  /** All that the writer of a post sets, its text alone, or a passage of it. */
  what: 'all' | 'text' | 'passage';
  /** The passage in that version, and what it takes the place of in the one that stands. */
  passage?: { before: BlockRange; after: BlockRange };
}

/** What updating a published post puts before its readers. */
export interface UpdateView {
  /** From the version live now to the current one; null where they are the same. */
  comparison: ComparisonView | null;
  /** What has to be fixed first, in sentences; empty when nothing has. */
  missing: string;
  /** Spin-offs whose sentences the post does not have any more then. */
  behind: { id: number; kind: PieceKind; outlet: string; sent: boolean }[];
}
