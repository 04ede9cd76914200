import type {
  CardStyle,
  BetterTime,
  Clash,
  OutletHours,
  LengthLimit,
  MovedOn,
  OutletKind,
  OutletLimits,
  OutletProtocol,
  PieceError,
  PieceKind,
  Shape,
  SourceSentence,
  Timing,
} from '@keyroster/core';
import type { PersonRef } from '../accounts/types.js';

/** What a protocol needs beside the outlet's address. */
export interface OutletSettings {
  /** Mail: server, port, and who it is from. */
  host?: string;
  port?: number;
  secure?: boolean;
  from?: string;
}

/** Credentials go in and never come out. */
export interface OutletCredentials {
  /** Micropub: bearer token. Webhook: signing secret. */
  token?: string;
  /** Mail: who signs in, and how. */
  user?: string;
  password?: string;
}

export interface OutletView {
  id: number;
  name: string;
  slug: string;
  kind: OutletKind;
  protocol: OutletProtocol;
  address: string;
  settings: OutletSettings;
  limits: OutletLimits;
  voice: string;
  knowsKeys: boolean;
  hasCredentials: boolean;
  paused: boolean;
  closed: boolean;
  /** Nothing is tried until then, after failures in a row. */
  restingUntil: string | null;
  /** Where those who fetch find its pieces; null for other protocols. */
  feeds: { atom: string; json: string } | null;
  waiting: number;
  sent: number;
  needsPerson: number;
  version: number;
}

export interface NewOutlet {
  name: string;
  kind: OutletKind;
  protocol: OutletProtocol;
  address: string;
  settings: OutletSettings;
  limits: OutletLimits;
  voice: string;
  knowsKeys: boolean;
  credentials?: OutletCredentials;
}
export type OutletChanges = Partial<NewOutlet> & { paused?: boolean; closed?: boolean };
export type { LengthLimit };

export interface Said {
  sentence: string;
}
export interface SendingView {
  stopped: boolean;
  by: string | null;
  at: string | null;
}
export interface SendingChange {
  stopped: boolean;
}

export const SEND_STATES = ['waiting', 'sending', 'sent', 'unsure', 'failed', 'stopped'] as const;
export type SendState = (typeof SEND_STATES)[number];

export interface SendView {
  id: number;
  pieceId: number;
  postId: number;
  post: string;
  outletId: number;
  outlet: string;
  kind: PieceKind;
  opening: string;
  state: SendState;
  dueLocal: string | null;
  dueAt: string | null;
  nextAt: string | null;
  sentAt: string | null;
  attempts: number;
  url: string;
  error: string;
  approvedBy: string | null;
  key: string;
}
export interface SendWhole extends SendView {
  log: { at: string; outcome: string; sentence: string }[];
}
export interface SendsQuery {
  state?: SendState;
  outlet?: number;
  before?: number;
  limit?: number;
}
/** A person's answer to “may have been sent”: it is there, or it is not and goes again. */
export interface SendAnswer {
  there: boolean;
}

export interface PieceView {
  id: number;
  postId: number;
  outletId: number;
  outlet: string;
  kind: PieceKind;
  instruction: string;
  /** How the instruction was understood. */
  understood: string;
  style: CardStyle;
  shape: Shape;
  drawn: boolean;
  otherIds: number[];
  subject: string;
  parts: string[];
  words: string;
  alt: string;
  tags: string[];
  remarks: string[];
  /**
   * Sentences it is built from, by their place in the post as it is now; those that changed since are not
   * among them.
   */
  usedNow: number[];
  edited: boolean;
  timing: Timing;
  dueLocal: string | null;
  /** The post's version it was made from, and what became of the post since. */
  sourceVersion: number;
  moved: MovedOn;
  errors: PieceError[];
  counts: number[];
  /** Earlier versions that are kept. */
  versions: { version: number; at: string; by: string | null; opening: string }[];
  pictures: { src: string; alt: string }[];
  send: Pick<SendView, 'id' | 'state' | 'url' | 'error' | 'sentAt' | 'nextAt'> | null;
  version: number;
}

export interface RolloutView {
  post: {
    id: number;
    title: string;
    version: number;
    words: number;
    stage: string;
    byline: PersonRef | null;
    slug: string | null;
    releaseLocal: string | null;
  };
  /** The post as it is now, in sentences; pieces are built from those. */
  sentences: SourceSentence[];
  pictures: number;
  pieces: PieceView[];
  clashes: Clash[];
  mayMake: boolean;
  maySend: boolean;
  /** Patterns that are offered, the one for this format or category first. */
  patterns: PatternView[];
  /** Of outlets of which it can be told in which hours their pieces do best. */
  hours: OutletHours[];
  /** Times at which this person could have pieces go out that would then do better. */
  better: BetterTime[];
}
/** A rollout that was approved, with the pieces that stay and why. */
export interface ApprovedRollout extends RolloutView {
  staying: { pieceId: number; sentence: string }[];
}
/** Times of several pieces of a post at once: all of them or none. */
export interface PieceTimes {
  times: readonly { pieceId: number; timing: Timing }[];
}

export interface PieceAskView {
  kind: PieceKind;
  outletId: number;
  instruction: string;
  style: CardStyle;
  shape: Shape;
  timing: Timing;
  otherIds?: number[];
}
export interface NewPieces {
  asks: PieceAskView[];
}
/** What was made, and what could not be, in sentences. */
export interface PiecesMade {
  made: number[];
  refused: string[];
}

export interface PieceChanges {
  subject?: string;
  parts?: string[];
  words?: string;
  alt?: string;
  tags?: string[];
  timing?: Timing;
  style?: CardStyle;
  shape?: Shape;
}
export interface Rebuild {
  instruction?: string;
  /** Sentences shaded by a person; null lets the engine choose. */
  only?: number[] | null;
  /** Another version: other sentences. */
  another?: boolean;
  /** Write over a person's words. */
  overwrite?: boolean;
}
/** The piece's version, so that another version has another address. */
export interface PictureQuery {
  v?: number;
}
export interface PieceRestore {
  version: number;
}
export interface Approval {
  approved: boolean;
}

export interface PatternStop {
  kind: PieceKind;
  outletId: number;
  instruction: string;
  style: CardStyle;
  shape: Shape;
  timing: Timing;
}
export interface PatternView {
  id: number;
  name: string;
  stops: PatternStop[];
  formatId: number | null;
  categoryId: number | null;
  campaignId: number | null;
  /** Makes its pieces when a post that it is for is cleared. */
  byItself: boolean;
  version: number;
}
export type NewPattern = Omit<PatternView, 'id' | 'version'>;
export interface PatternUse {
  patternId: number;
}
export interface PatternFrom extends Pick<NewPattern, 'name' | 'formatId' | 'categoryId'> {
  postId: number;
}

export interface EvergreenView {
  id: number;
  title: string;
  released: string;
  why: string;
  outletId: number;
  outlet: string;
  local: string;
}
export interface EvergreenQuery {
  restDays?: number;
  everyDays?: number;
  time?: string;
  max?: number;
}
/** A kind of null makes what suits each outlet. */
export interface EvergreenPlan {
  stops: { postId: number; outletId: number; local: string }[];
  kind: PieceKind | null;
  instruction: string;
}

export interface PlannerPiecesQuery {
  from: string;
  to: string;
}
export interface PlannerPiece {
  id: number;
  postId: number;
  kind: PieceKind;
  outlet: string;
  local: string;
  state: SendState | 'draft';
}
