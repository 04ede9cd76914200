import { addDays, isLater, type Instant } from '../time/zone.js';

/** Where a comment stands: it waits to be read, is visible to readers, was refused, or was marked as spam. */
export const COMMENT_STATES = ['held', 'approved', 'refused', 'spam'] as const;
export type CommentState = (typeof COMMENT_STATES)[number];

/** What somebody reads of the one who moderates: nothing of either is a mark against a person. */
export const COMMENT_STATE_NAMES: Record<CommentState, string> = {
  held: 'waiting',
  approved: 'approved',
  refused: 'refused',
  spam: 'spam',
};

/** Of whom comments wait until somebody has read them. */
export const COMMENT_HOLDS = ['newcomers', 'everybody'] as const;
export type CommentHold = (typeof COMMENT_HOLDS)[number];

export const MAX_COMMENT = 5000;
export const MAX_COMMENT_NAME = 80;
/** After how many days comments may close, at most. */
export const MAX_CLOSE_DAYS = 3650;

/** The blog's part of it. */
export interface CommentRules {
  comments: boolean;
  /** Comments of a post close so many days after it went out; null: never. */
  commentsCloseDays: number | null;
}
/** The post's part of it. */
export interface Commented {
  comments: boolean;
  runAt: Instant | null;
}

/**
 * Why readers can write no comments under a post; null when they can. Both switches are needed: common practice, no
 * published source.
 */
export type Closed = 'blog' | 'post' | 'both' | 'over';

export function whyClosed(rules: CommentRules, post: Commented, now: Instant): Closed | null {
  if (!rules.comments && !post.comments) return 'both';
  if (!rules.comments) return 'blog';
  if (!post.comments) return 'post';
  if (rules.commentsCloseDays === null || post.runAt === null) return null;
  const closes = `${addDays(post.runAt.slice(0, 10), rules.commentsCloseDays)}${post.runAt.slice(10)}`;
  return isLater(closes, now) ? null : 'over';
}

/** What the desk says of it. Comments that are there already are shown when only time has closed them. */
export function closedSentence(closed: Closed | null, { commentsCloseDays }: CommentRules): string {
  switch (closed) {
    case null:
      return commentsCloseDays === null
        ? 'Readers can comment.'
        : `Readers can comment for ${commentsCloseDays} days after it goes out.`;
    case 'blog':
      return 'No comments show: the blog’s switch is off (Comments, Rules). This post’s is on.';
    case 'post':
      return 'No comments show: this post’s switch is off. The blog’s is on.';
    case 'both':
      return 'No comments show: both switches are off, this post’s and the blog’s (Comments, Rules).';
    case 'over':
      return `Nobody can write any more: ${commentsCloseDays} days have passed. What was written shows.`;
  }
}

/** Do comments that were approved show? */
export const commentsShow = (closed: Closed | null): boolean => closed === null || closed === 'over';

/** What is known of a comment when it arrives. */
export interface Arriving {
  /** Probability that it is spam, from 0 to 1. */
  spam: number;
  /** Something that no person sees was filled in. */
  trapped: boolean;
  /** A comment of the same person was approved before, and none of theirs is spam. */
  known: boolean;
  staff: boolean;
}

/** Above this, what the filter says is believed against who is not known. */
export const SPAM_FROM = 0.9;

/** What becomes of a comment by itself. */
export function stateOnArrival({ spam, trapped, known, staff }: Arriving, hold: CommentHold): CommentState {
  if (staff) return 'approved';
  if (trapped) return 'spam';
  if (known) return spam >= SPAM_FROM || hold === 'everybody' ? 'held' : 'approved';
  return spam >= SPAM_FROM ? 'spam' : 'held';
}

/** A text as it is kept: no control characters, at most one empty line in a row, no space at the ends. */
export const plainComment = (text: string): string =>
  text
    .normalize('NFC')
    .replace(/\r\n?/g, '\n')
    .replace(/[^\S\n]+/g, ' ')
    .replace(/(?!\n)\p{C}/gu, '')
    .replace(/ *\n */g, '\n')
    .replace(/\n{3,}/g, '\n\n')
    .trim();
