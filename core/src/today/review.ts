import type { Actor } from '../people/people.js';
import { isDesk, type PostFacts } from '../stages/stages.js';
import { formatCount } from '../time/format.js';

/** What of a post decides for whom it waits to be read. */
export type ReviewFacts = PostFacts & {
  /** Who reviews it, when it was reassigned to somebody; null for the first free editor. */
  editorId: number | null;
  readersVersion: number | null;
};

/** What a person is to do with a post that waits for them. */
export type ReviewKind = 'review' | 'proofread' | 'update';

/** Does a post in review wait for this person of the desk? Reassigned, it waits for one of them alone. */
export const isReviewer = (actor: Actor, post: Pick<ReviewFacts, 'categoryId' | 'editorId'>): boolean =>
  isDesk(actor, post) && (post.editorId === null || post.editorId === actor.id);

/** For what a post waits for this person to read it; null when it does not. */
export function reviewKind(actor: Actor, post: ReviewFacts): ReviewKind | null {
  if (post.stage === 'in review' && isReviewer(actor, post)) return 'review';
  if (post.proofreaderId === actor.id && (post.stage === 'in review' || post.stage === 'cleared'))
    return 'proofread';
  return post.stage === 'published' && post.readersVersion !== null && isDesk(actor, post) ? 'update' : null;
}

/**
 * Which of two posts is read first: the one that runs sooner; of those without a run time, after them, the one that
 * waits longer.
 */
export function inReviewOrder(
  a: { runLocal: string | null; since: string },
  b: { runLocal: string | null; since: string },
): number {
  if (a.runLocal && b.runLocal && a.runLocal !== b.runLocal) return a.runLocal < b.runLocal ? -1 : 1;
  if (!a.runLocal !== !b.runLocal) return a.runLocal ? -1 : 1;
  return a.since < b.since ? -1 : a.since > b.since ? 1 : 0;
}

/** What is missing before a post goes on, in a few words each. */
export function missingOf(post: {
  checks: { blocks: number; warns: number };
  openNotes: number;
  suggestions: number;
  runLocal: string | null;
}): string[] {
  const { blocks, warns } = post.checks;
  return [
    ...(blocks > 0 ? [`${formatCount(blocks, 'check')} ${blocks === 1 ? 'holds' : 'hold'} it back`] : []),
    ...(warns > 0 ? [formatCount(warns, 'warning')] : []),
    ...(post.openNotes > 0 ? [formatCount(post.openNotes, 'open note')] : []),
    ...(post.suggestions > 0 ? [formatCount(post.suggestions, 'suggestion')] : []),
    ...(post.runLocal === null ? ['no run time'] : []),
  ];
}
