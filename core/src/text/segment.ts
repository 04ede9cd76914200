const WINDOW = 2048;
/** A run without any boundary is cut at last; no word or sentence that a person wrote is so long. */
const LONGEST = 65_536;

/** Segmenters are dear to make and cheap to use. */
const segmenters = {
  word: new Intl.Segmenter('en', { granularity: 'word' }),
  sentence: new Intl.Segmenter('en', { granularity: 'sentence' }),
} as const;

/**
 * Words or sentences of a text by Unicode's boundaries (UAX #29), the same as of the whole text, but cut piece
 * by piece: the cost of Intl.Segmenter grows faster than the text it is given, so that a long one would hold
 * up everything behind it.
 */
export function* segmentsOf(text: string, granularity: 'word' | 'sentence'): Generator<Intl.SegmentData> {
  const segmenter = segmenters[granularity];
  let from = 0;
  let size = WINDOW;
  while (from < text.length) {
    const end = Math.min(text.length, from + size);
    const found = [...segmenter.segment(text.slice(from, end))];
    const sure = end === text.length ? found.length : sureOf(found, granularity);
    if (sure === 0 && size < LONGEST) {
      size *= 2;
      continue;
    }
    const taken = sure === 0 ? found : found.slice(0, sure);
    yield* taken;
    const last = taken.at(-1)!;
    from += last.index + last.segment.length;
    size = WINDOW;
  }
}

/**
 * How many of the segments at the start of a piece would be the same with what follows it: words up to the last
 * white space, which nothing reaches across; otherwise all but those at the end, which may go on or join.
 */
function sureOf(found: readonly Intl.SegmentData[], granularity: 'word' | 'sentence'): number {
  if (granularity === 'sentence') return Math.max(0, found.length - 2);
  for (let i = found.length - 2; i > 0; i--) if (/^\s+$/u.test(found[i]!.segment)) return i + 1;
  return Math.max(0, found.length - 4);
}
