import { stemOf } from '../text/stem.js';
import { wordsOf } from '../reading/reading.js';
import { contentWords } from '../slug/slug.js';

/** How often each term comes in a text. A term is the stem of a telling word. */
export type TermCounts = ReadonlyMap<string, number>;

/** The terms of all posts together. */
export interface Corpus {
  posts: number;
  /** In how many of them a term comes; 0 where it is not known yet. */
  postsWith(term: string): number;
  /** How many terms a post has on average, repeats counted. */
  meanLength: number;
}

/** Constants of the weight, as the authors recommend them. */
const K1 = 2;
const B = 0.75;
/** Terms beyond this many characters of a text say nothing new of it. */
const READ_CHARS = 60_000;
/** So much more than in the text a term counts in title, tags and category. */
const NAMED = 3;

/** The terms of a post: of its text once, of what names it thrice. */
export function termsOf({ text, names }: { text: string; names: readonly string[] }): Map<string, number> {
  const counts = new Map<string, number>();
  const count = (of: string, times: number) => {
    for (const word of wordsOf(of)) {
      // With a word that always counts beside it, since the choice of words gives at least one.
      const plain = contentWords(`${word} zz`, 1)[0]!;
      if (plain === 'zz' || plain.length < 3 || /^\d+$/.test(plain)) continue;
      const term = stemOf(plain);
      counts.set(term, (counts.get(term) ?? 0) + times);
    }
  };
  count(text.slice(0, READ_CHARS), 1);
  for (const name of names) count(name, NAMED);
  return counts;
}

/**
 * The weight of each term of a post: how often it comes, the less the longer the post, times how rare it is. The
 * combined weight of S. E. Robertson and K. Spärck Jones, Simple, proven approaches to text retrieval, University
 * of Cambridge Computer Laboratory, TR-356 (1994). One is added to the number of posts, so that a
 * term that all of them have still weighs a little, which tells in a blog of few.
 */
export function weightsOf(terms: TermCounts, corpus: Corpus): Map<string, number> {
  const length = [...terms.values()].reduce((sum, n) => sum + n, 0);
  const relative = corpus.meanLength > 0 ? length / corpus.meanLength : 1;
  const weights = new Map<string, number>();
  for (const [term, times] of terms) {
    const rarity = Math.log((corpus.posts + 1) / Math.max(corpus.postsWith(term), 1));
    if (rarity <= 0) continue;
    weights.set(term, (rarity * times * (K1 + 1)) / (K1 * (1 - B + B * relative) + times));
  }
  return weights;
}

/** The cosine of the angle between two posts by their weights: 0 nothing in common, 1 the same. */
export function cosine(a: ReadonlyMap<string, number>, b: ReadonlyMap<string, number>): number {
  let dot = 0;
  for (const [term, weight] of a) dot += weight * (b.get(term) ?? 0);
  const norm = lengthOf(a) * lengthOf(b);
  return norm === 0 ? 0 : dot / norm;
}

const lengthOf = (weights: ReadonlyMap<string, number>): number => Math.hypot(...weights.values());

/**
 * The heaviest terms of a post, with weights of length 1 together, so that products of two posts add up to
 * their cosine.
 */
export function topTerms(
  weights: ReadonlyMap<string, number>,
  most: number,
): [term: string, weight: number][] {
  const top = [...weights].sort(([a, x], [b, y]) => y - x || (a < b ? -1 : 1)).slice(0, most);
  const length = lengthOf(new Map(top));
  return top.map(([term, weight]) => [term, weight / length]);
}
