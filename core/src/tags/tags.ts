import { distance } from 'fastest-levenshtein';
import { stemsOf } from '../likeness/likeness.js';

/** A tag as it is kept: spaces single, no marks of its own at the ends. */
export function tidyTag(text: string): string {
  return text
    .normalize('NFC')
    .replace(/[\s,;#]+/g, ' ')
    .trim()
    .slice(0, 60);
}

export interface TagLike {
  id: number;
  name: string;
}

/** Letters two names may differ by: none in short ones, one, then two. */
const mayDiffer = (length: number) => (length < 5 ? 0 : length < 10 ? 1 : 2);

/**
 * Do two tags name the same thing: same stems in any order, or spelled a letter apart (V. Levenshtein, 1965)?
 */
export function nearTags(a: string, b: string): boolean {
  const plain = (text: string) =>
    text
      .normalize('NFKD')
      .replace(/\p{M}/gu, '')
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '');
  const [x, y] = [plain(a), plain(b)];
  if (x === y) return true;
  const stems = (text: string) => [...stemsOf(text).keys()].sort().join(' ');
  if (stems(a) !== '' && stems(a) === stems(b)) return true;
  // Numbers that differ name different things: lock 21 is not lock 22.
  if (x.replace(/\D/g, '') !== y.replace(/\D/g, '')) return false;
  const max = mayDiffer(Math.min(x.length, y.length));
  return max > 0 && Math.abs(x.length - y.length) <= max && distance(x, y) <= max;
}

/** Pairs of tags that look like one, the more used to keep. */
export function mergeSuggestions<T extends TagLike & { posts: number }>(
  tags: readonly T[],
): { keep: T; merge: T }[] {
  const pairs: { keep: T; merge: T }[] = [];
  for (let i = 0; i < tags.length; i++) {
    for (let j = i + 1; j < tags.length; j++) {
      const [a, b] = [tags[i]!, tags[j]!];
      if (!nearTags(a.name, b.name)) continue;
      pairs.push(
        a.posts > b.posts || (a.posts === b.posts && a.id < b.id)
          ? { keep: a, merge: b }
          : { keep: b, merge: a },
      );
    }
  }
  return pairs;
}
