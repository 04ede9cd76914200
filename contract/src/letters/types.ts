import type { Instant, LetterAtRelease, Stage, SubscriberState } from '@keyroster/core';
import type { PersonRef } from '../accounts/types.js';
import type { Versioned } from '../versioned.js';

/** Somebody who signed up for the letter. */
export interface SubscriberView extends Versioned {
  id: number;
  email: string;
  name: string;
  state: SubscriberState;
  /** By the form on the blog, from a file, or added in the newsroom. */
  how: 'form' | 'import' | 'newsroom';
  /** The post under which they signed up. */
  post: { id: number; title: string } | null;
  askedAt: Instant;
  confirmedAt: Instant | null;
  leftAt: Instant | null;
  /** Letters in a row that did not get through, and what was said of the last. */
  bounces: number;
  bounceSaid: string;
}
export interface SubscribersQuery {
  state?: SubscriberState;
  /** Part of a name or an address. */
  q?: string;
  before?: number;
}
export interface SubscribersPage {
  /** Why subscribers cannot be reached, the most frequent first; empty for other states. */
  reasons: { reason: string; subscribers: number }[];
  subscribers: SubscriberView[];
  more: boolean;
  counts: Record<SubscriberState, number>;
}
export interface NewSubscriber {
  email: string;
  name: string;
}
export interface SubscriberChanges {
  name?: string;
  /** Off the list, as if they had unsubscribed; nobody is put back on it but by themselves. */
  left?: true;
}
/** Those who cannot be reached and are put on the list again: some by id, or all with one reason. */
export interface RestoreSubscribers {
  ids?: readonly number[];
  reason?: string;
}
export interface RestoredSubscribers {
  restored: number;
}
/** What came of a file of subscribers. */
export interface SubscribersImported {
  added: number;
  /** On the list already, whatever their state: left as they are. */
  known: number;
  /** Deleted from the list before, and kept out. */
  erased: number;
  /** The same address again in the file. */
  repeated: number;
  /** Lines that hold no address, the first fifty, and how many there are. */
  wrong: { line: number; text: string }[];
  wrongCount: number;
}

export const LETTER_STATES = ['draft', 'sending', 'stopped', 'sent'] as const;
export type LetterState = (typeof LETTER_STATES)[number];

/** How many of a letter stand where. */
export interface LetterCounts {
  waiting: number;
  sent: number;
  /** Of those who wait: their mail server said to try later. */
  deferred: number;
  /** Refused by their mail server. */
  failed: number;
  /** Their mail server said to try later for three days. */
  undelivered: number;
  /** The newsroom stopped while it was sending them, or the mail server hung up: they may have it. */
  unsure: number;
  /** Left the list before it was their turn. */
  left: number;
  bounced: number;
  unsubscribed: number;
  /** Null where the blog does not count them. */
  opened: number | null;
  clicked: number | null;
}
export interface LetterLine {
  id: number;
  subject: string;
  state: LetterState;
  posts: number;
  counts: LetterCounts;
  by: PersonRef | null;
  madeAt: Instant;
  begunAt: Instant | null;
  endedAt: Instant | null;
  /** When those who are deferred are tried again; null where somebody else comes first. */
  nextTryAt: Instant | null;
  /** It was made by a post at its release. */
  atRelease: boolean;
  note: string;
}
export interface LetterPostView {
  id: number;
  title: string;
  stage: Stage;
  /** Why it cannot go out with the letter; empty where it can. */
  withheld: string;
}
export interface LetterView extends Omit<LetterLine, 'posts'> {
  version: number;
  intro: string;
  whole: boolean;
  posts: LetterPostView[];
  /** Who would get it now. */
  subscribers: number;
  clicks: { url: string; clicks: number }[];
}
/** The letter of a post that mails itself at its release. */
export interface LetterOfPost extends LetterAtRelease {
  /** What came of it; null until the post is released. */
  letter: { id: number; state: LetterState; note: string } | null;
}
export interface NewLetter {
  postIds: readonly number[];
}
export interface LetterChanges {
  subject: string;
  intro: string;
  whole: boolean;
  postIds: readonly number[];
}
export interface LetterPreview {
  subject: string;
  html: string;
  text: string;
}
/** What is done about those who may have a letter: they get it (perhaps again), or are skipped. */
export interface LetterDoubt {
  again: boolean;
}
