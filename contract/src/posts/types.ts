import {
  CARD_FIELDS,
  POST_FIELDS,
  type CardField,
  type CheckCounts,
  type DateConstraint,
  type Instant,
  type PostField,
  type PostValues,
  type SettableField,
  type Stage,
  type TagLike,
  type TextFieldName,
  type WallTime,
} from '@keyroster/core';
import type { PersonRef } from '../accounts/types.js';

/** Fields of text that cards and lists show. */
export type CardText = Extract<CardField, TextFieldName>;
export const CARD_TEXTS = CARD_FIELDS.filter((f): f is CardText => POST_FIELDS[f].kind === 'text');

/** A post as lists and cards show it. */
export interface PostCard extends Pick<PostValues, CardText> {
  id: number;
  version: number;
  stage: Stage;
  slug: string | null;
  categoryId: number | null;
  byline: PersonRef | null;
  runLocal: WallTime | null;
  runZone: string | null;
  runAt: Instant | null;
  /** `YYYY-MM-DD` */
  copyDate: string | null;
  words: number;
  /** When a dated idea may run. */
  dateConstraint: DateConstraint;
  /** 1 to 5, or null while nobody has rated it. */
  rating: number | null;
  late: boolean;
  openNotes: number;
  /** What the checks found when the post was last measured. */
  checks: CheckCounts;
  createdAt: Instant;
  updatedAt: Instant;
  releasedAt: Instant | null;
}

/** What the person who asks may do with the post. */
export interface PostRights {
  write: boolean;
  details: boolean;
  plan: boolean;
  note: boolean;
  update: boolean;
  /** Changes of the text that somebody else accepts or refuses. */
  suggest: boolean;
  /** Its earlier versions. */
  history: boolean;
}

/** Fields that a view shows under another name, or with the things that they name. */
export const SHOWN_OTHERWISE = [
  'bylineId',
  'coauthorIds',
  'editorId',
  'proofreaderId',
  'tagIds',
  'run',
  'scheduledAt',
  'binned',
  'suggested',
] as const satisfies readonly PostField[];
type ShownOtherwise = (typeof SHOWN_OTHERWISE)[number];

/** A post without its text. */
export interface PostDetails extends PostCard, Omit<PostValues, keyof PostCard | ShownOtherwise | 'body'> {
  /** The web address the post gets when it is cleared without one; null once it has one. */
  proposedSlug: string | null;
  coauthors: PersonRef[];
  editor: PersonRef | null;
  proofreader: PersonRef | null;
  tags: TagLike[];
  copiedFrom: { id: number; title: string } | null;
  /** How many suggestions its text holds. */
  suggestions: number;
  rights: PostRights;
  moves: { to: Stage; label: string }[];
}

/** A whole post. */
export interface PostView extends PostDetails, Pick<PostValues, 'body'> {}

export interface NewPost {
  title: string;
  thought?: string;
  categoryId?: number | null;
  bylineId?: number | null;
  dateConstraint?: DateConstraint;
  /** Puts it on a date at once, commissioned; as in PostChanges. */
  runAt?: string;
}

/** Something written down on a device, perhaps without a connection. */
export interface NewCapture {
  /** Made by the device, so that it arrives once however often it is sent. */
  key: string;
  title: string;
  thought: string;
  /** Plain, with empty lines between its paragraphs; empty: it is a pitch. */
  text: string;
  categoryId: number | null;
}
export interface Captured {
  id: number;
  title: string;
  stage: Stage;
}

/** Fields of a post that may be changed; all optional, only what is given changes. */
export interface PostChanges extends Partial<Pick<PostValues, Exclude<SettableField, 'tagIds' | 'run'>>> {
  /** Names; those that are new are made. */
  tags?: string[];
  /**
   * Wall time of the blog's zone (`2026-11-27T12:00`), with an offset where it happens twice; null takes it away.
   */
  runAt?: string | null;
}

/** A copy may begin with a title of its own. */
export interface NewCopy {
  title?: string;
  /** Another blog of one's own that it goes to; without it, it stays on this one. */
  blogId?: number;
  /** The post here goes to the bin once it is there. */
  move?: boolean;
}

export interface NewMove {
  to: Stage;
  /** As in PostChanges. */
  runAt?: string;
  note?: string;
}

/** What a change or a move did. The text comes with neither: only texts change it. */
export interface MoveDone {
  post: PostDetails;
  /** `Goes out Friday 27 November at 12:00.` */
  sentence: string;
}

export const POST_SORTS = ['-run', 'run', '-updated', 'title', '-created'] as const;
export type PostSort = (typeof POST_SORTS)[number];

export interface PostQuery {
  stage?: Stage[];
  category?: number;
  byline?: number;
  words?: string;
  sort?: PostSort;
  cursor?: string;
  limit?: number;
}

export interface PostPage {
  posts: PostCard[];
  next: string | null;
  /** Who else has posts of this page open. */
  here: { postId: number; person: PersonRef }[];
}

export interface ReleaseLogEntry {
  id: number;
  postId: number;
  title: string;
  slug: string | null;
  /** The run time that was set. */
  plannedLocal: WallTime;
  plannedAt: Instant;
  releasedAt: Instant;
  /** Milliseconds from when it was due to when it was out. */
  lateness: number;
  late: boolean;
  /** The run time lay in the past when it was set. */
  backdated: boolean;
  /** What the checks said when it went out; null for releases of before there were checks. */
  checks: CheckCounts | null;
}
