/**
 * Words in a text that a note is about, after the W3C Web Annotation Data Model, section 4.2.4 (Text Quote
 * Selector).
 */
export interface Passage {
  exact: string;
  prefix: string;
  suffix: string;
}

const CONTEXT = 32;

export function passageAt(text: string, from: number, to: number): Passage {
  return {
    exact: text.slice(from, to),
    prefix: text.slice(Math.max(0, from - CONTEXT), from),
    suffix: text.slice(to, to + CONTEXT),
  };
}

/**
 * Where a passage stands in a text now: of all places with its exact words the one whose surroundings match
 * best, the first on a tie. Null when the words are no longer there.
 */
export function findPassage(text: string, passage: Passage): { from: number; to: number } | null {
  if (passage.exact === '') return null;
  let best: { from: number; score: number } | null = null;
  for (let from = text.indexOf(passage.exact); from >= 0; from = text.indexOf(passage.exact, from + 1)) {
    const to = from + passage.exact.length;
    const score =
      commonEnd(text.slice(Math.max(0, from - CONTEXT), from), passage.prefix) +
      commonStart(text.slice(to, to + CONTEXT), passage.suffix);
    if (!best || score > best.score) best = { from, score };
  }
  return best && { from: best.from, to: best.from + passage.exact.length };
}

function commonStart(a: string, b: string): number {
  let n = 0;
  while (n < a.length && n < b.length && a[n] === b[n]) n++;
  return n;
}
function commonEnd(a: string, b: string): number {
  let n = 0;
  while (n < a.length && n < b.length && a[a.length - 1 - n] === b[b.length - 1 - n]) n++;
  return n;
}
