import type { Post } from './values.js';

/**
 * What a post in a stage may never lose, by any change of any person. Each rule says whether it is broken,
 * in a sentence.
 */
const RULES: readonly ((post: Post) => string | null)[] = [
  (p) =>
    p.secondCategoryId !== null && p.secondCategoryId === p.categoryId
      ? 'The second category is the same as the first.'
      : null,
  (p) => (p.stage === 'pitch' && p.run !== null ? 'A pitch has no date.' : null),
  (p) => (p.stage === 'published' && p.releasedAt === null ? 'A published post has been released.' : null),
  keeps('title', (p) => p.title !== ''),
  keeps('byline', (p) => p.bylineId !== null),
  keeps('category', (p) => p.categoryId !== null),
  keeps('web address', (p) => p.slug !== null),
  keeps('run time', (p) => p.run !== null),
  (p) =>
    isOut(p) && p.access === 'password' && p.readingPassword === ''
      ? `A ${p.stage} post that asks readers for a password keeps one.`
      : null,
  (p) =>
    isOut(p) && p.words === 0
      ? `A ${p.stage} post keeps its text. ` +
        `${p.stage === 'scheduled' ? 'Unschedule it' : 'Withdraw it'} first to empty it.`
      : null,
];

const isOut = (post: Post) => post.stage === 'scheduled' || post.stage === 'published';

function keeps(label: string, holds: (post: Post) => boolean) {
  return (post: Post) => (isOut(post) && !holds(post) ? `A ${post.stage} post keeps its ${label}.` : null);
}

/**
 * The first rule that a change breaks, in a sentence; null when it breaks none. What was broken before may stay
 * so.
 */
export function brokenRule(before: Post, after: Post): string | null {
  for (const rule of RULES) {
    const sentence = rule(after);
    if (sentence !== null && rule(before) === null) return sentence;
  }
  return null;
}

/** Every rule that a post breaks as it stands. */
export function brokenRules(post: Post): string[] {
  return RULES.flatMap((rule) => rule(post) ?? []);
}
