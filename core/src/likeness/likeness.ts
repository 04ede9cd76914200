import { stemOf } from '../text/stem.js';
import { contentWords } from '../slug/slug.js';

/** More words than any title or line of thought has. */
const MAX_WORDS = 60;

/**
 * The telling words of a text by their stems (M. F. Porter, "An algorithm for suffix stripping", 1980), each
 * with the word it came from.
 */
export function stemsOf(text: string): Map<string, string> {
  return new Map(contentWords(text, MAX_WORDS).map((word) => [stemOf(word), word]));
}

/** What two texts share. */
export interface Likeness {
  /** Jaccard index of their stems, 0 to 1: shared words out of all words. */
  score: number;
  /** The shared words, as the first text writes them. */
  shared: string[];
}

/** How alike two short texts are, by the words that tell something; order and endings do not count. */
export function likeness(a: ReadonlyMap<string, string>, b: ReadonlyMap<string, string>): Likeness {
  const shared = [...a].filter(([stem]) => b.has(stem)).map(([, word]) => word);
  const all = a.size + b.size - shared.length;
  return { score: all === 0 ? 0 : shared.length / all, shared };
}

/** A post or pitch to compare with. */
export interface Comparable {
  id: number;
  title: string;
}

export interface Alike<P extends Comparable> extends Likeness {
  post: P;
}

/** Half of the words and at least two of them: below, titles share words by chance. */
const ALIKE = 0.5;
const FEWEST_SHARED = 2;

/**
 * The one among `others` that a title resembles most, the older one when two are equally alike; null when
 * none is alike enough.
 */
export function mostAlike<P extends Comparable>(title: string, others: Iterable<P>): Alike<P> | null {
  const own = stemsOf(title);
  let best: Alike<P> | null = null;
  for (const post of others) {
    const found = likeness(own, stemsOf(post.title));
    if (found.score < ALIKE || found.shared.length < Math.min(FEWEST_SHARED, own.size)) continue;
    if (!best || found.score > best.score || (found.score === best.score && post.id < best.post.id))
      best = { ...found, post };
  }
  return best;
}
