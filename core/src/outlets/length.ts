import { isClosed } from './source.js';

/**
 * How an outlet counts: what readers take for one sign (UAX #29), code points, the units of UTF-16, or bytes
 * of UTF-8.
 */
export const LENGTH_UNITS = ['graphemes', 'code points', 'UTF-16 units', 'bytes'] as const;
export type LengthUnit = (typeof LENGTH_UNITS)[number];

/** How long a text may be at an outlet. */
export interface LengthLimit {
  max: number;
  unit: LengthUnit;
  /** What a link counts, whatever its length; null: as it is written. */
  linkCost: number | null;
}

const graphemeSegmenter = new Intl.Segmenter('en', { granularity: 'grapheme' });
export const LINK = /https?:\/\/[^\s<>"”]+[^\s<>"”.,;:!?)\]]/g;

/** Extended grapheme clusters of a text (UAX #29). */
export function graphemesOf(text: string): string[] {
  return [...graphemeSegmenter.segment(text)].map((s) => s.segment);
}

/**
 * Letters, digits and marks of Western texts, each a sign of its own; counting them one by one would be
 * counting their number.
 */
const ONE_EACH = /^[\n\x20-\x7e\u00a1-\u00ac\u00ae-\u02ff\u2010-\u2027\u2610]*$/;

function countPlain(text: string, unit: LengthUnit): number {
  if (unit !== 'bytes' && ONE_EACH.test(text)) return text.length;
  switch (unit) {
    case 'graphemes':
      return graphemesOf(text).length;
    case 'code points':
      return [...text].length;
    case 'UTF-16 units':
      return text.length;
    case 'bytes':
      return [...text].reduce(
        (sum, c) =>
          sum +
          (c.codePointAt(0)! < 0x80
            ? 1
            : c.codePointAt(0)! < 0x800
              ? 2
              : c.codePointAt(0)! < 0x10000
                ? 3
                : 4),
        0,
      );
  }
}

/** A text's length as an outlet counts it. */
export function lengthOf(text: string, { unit, linkCost }: Omit<LengthLimit, 'max'>): number {
  if (linkCost === null) return countPlain(text, unit);
  const links = text.match(LINK) ?? [];
  return countPlain(text.replace(LINK, ''), unit) + links.length * linkCost;
}

/** Marks after which a sentence can be broken off and still be read. */
const CLAUSE = /[;:—–](?=\s)|,(?=\s)/g;

/**
 * A sentence made to fit: whole if it does, else up to the last clause that fits, else up to the last whole
 * word that fits, both with “…”.
 * Null when not even one word does. Words, links and graphemes are never cut, nor quotations and brackets.
 */
export function fitSentence(text: string, fits: (text: string) => boolean): string | null {
  if (fits(text)) return text;
  const ends = [...text.matchAll(CLAUSE)].map((m) => m.index).reverse();
  for (const end of ends) {
    const part = `${text.slice(0, end).trim()} …`;
    // Less than a third of a sentence says something else than the sentence.
    if (end * 3 >= text.length && isClosed(part) && !splitsLink(text, end) && fits(part)) return part;
  }
  const words = text.split(/(?<=\s)/u);
  // Of a text without spaces, words are found by UAX #29.
  const units =
    words.length > 2
      ? words
      : [...new Intl.Segmenter('und', { granularity: 'word' }).segment(text)].map((s) => s.segment);
  for (let n = units.length - 1; n > 0; n--) {
    const end = units.slice(0, n).join('').length;
    const part = `${text
      .slice(0, end)
      .trim()
      .replace(/[,;:—–-]+$/u, '')} …`;
    if (part.length > 2 && isClosed(part) && !splitsLink(text, end) && fits(part)) return part;
  }
  return null;
}

const splitsLink = (text: string, at: number) =>
  [...text.matchAll(LINK)].some((m) => m.index < at && at < m.index + m[0].length);
