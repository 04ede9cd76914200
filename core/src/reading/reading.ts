import { LONGEST_WORD, stemOf } from '../text/stem.js';
import { syllable } from 'syllable';
import { contentWords } from '../slug/slug.js';
import type { BodyNode } from '../body/schema.js';
import { countWords, inlineText } from '../body/text.js';
import { segmentsOf } from '../text/segment.js';

/** Counts that readability formulas work on. */
export interface ReadingCounts {
  sentences: number;
  words: number;
  syllables: number;
  /** Runs of letters that are too long to be words; they count in nothing else. */
  unmeasured: number;
  /** The text has more characters than can be measured; nothing of it was. */
  tooLong: boolean;
}

/** A text of more characters is not measured: as much as four long novels. */
export const MAX_MEASURED = 2_000_000;

/**
 * Sentences of a text by Unicode sentence boundaries (UAX #29), each trimmed; those without a word are left
 * out.
 */
export function sentencesOf(text: string): string[] {
  return [...segmentsOf(text, 'sentence')].map((s) => s.segment.trim()).filter((s) => countWords(s) > 0);
}

/** Word-like runs of a text, as they are written. */
export function wordsOf(text: string): string[] {
  return [...segmentsOf(text, 'word')].filter((s) => s.isWordLike).map((s) => s.segment);
}

const isTooLong = (texts: readonly string[]): boolean =>
  texts.reduce((sum, text) => sum + text.length, 0) > MAX_MEASURED;

export function countReading(texts: readonly string[]): ReadingCounts {
  const counts: ReadingCounts = {
    sentences: 0,
    words: 0,
    syllables: 0,
    unmeasured: 0,
    tooLong: isTooLong(texts),
  };
  if (counts.tooLong) return counts;
  for (const text of texts) {
    counts.sentences += sentencesOf(text).length;
    for (const word of wordsOf(text)) {
      if (word.length > LONGEST_WORD) {
        counts.unmeasured++;
        continue;
      }
      counts.words++;
      counts.syllables += Math.max(1, syllable(word));
    }
  }
  return counts;
}

type Counted = 'sentences' | 'words' | 'syllables';

/**
 * Flesch reading ease: about 100 very easy, 60 to 70 plain English, below 30 hard (R. Flesch, "A new
 * readability yardstick",
 * Journal of Applied Psychology 32, 1948). Null without words.
 */
export function fleschEase({ sentences, words, syllables }: Pick<ReadingCounts, Counted>): number | null {
  return words === 0 || sentences === 0
    ? null
    : 206.835 - 1.015 * (words / sentences) - 84.6 * (syllables / words);
}

/**
 * Flesch–Kincaid grade: school years a reader needs (Kincaid, Fishburne, Rogers and Chissom, 1975). Null
 * without words.
 */
export function fleschKincaidGrade({
  sentences,
  words,
  syllables,
}: Pick<ReadingCounts, Counted>): number | null {
  return words === 0 || sentences === 0
    ? null
    : 0.39 * (words / sentences) + 11.8 * (syllables / words) - 15.59;
}

export interface LongSentence {
  text: string;
  words: number;
}
export interface RepeatedWord {
  word: string;
  times: number;
  /** The same word stands twice in a row. */
  doubled: boolean;
}

/** How a text reads. */
export interface Reading {
  counts: ReadingCounts;
  ease: number | null;
  grade: number | null;
  longSentences: LongSentence[];
  repeated: RepeatedWord[];
}

/**
 * Sentences beyond this are worth a look: about twice the average of published prose (common practice, no
 * published source).
 */
export const LONG_SENTENCE = 30;
/** A telling word that comes so often, and so often among all words, catches the ear. */
const OFTEN = 5;
const OFTEN_SHARE = 0.012;

/**
 * Running text of a body: paragraphs wherever they stand, one text each; headings, code and captions are not
 * running text.
 */
export function runningText(body: BodyNode): string[] {
  const texts: string[] = [];
  const visit = (node: BodyNode): void => {
    if (node.type === 'paragraph') texts.push(inlineText(node));
    else if (node.type !== 'heading' && node.type !== 'codeBlock' && node.type !== 'pullQuote')
      for (const child of node.content ?? []) visit(child);
  };
  visit(body);
  return texts.filter((t) => t.trim() !== '');
}

/** Measures the running text of a body. */
export function readingOf(body: BodyNode): Reading {
  const texts = runningText(body);
  const counts = countReading(texts);
  if (counts.tooLong) return { counts, ease: null, grade: null, longSentences: [], repeated: [] };
  const longSentences = texts
    .flatMap(sentencesOf)
    .map((text) => ({ text, words: countWords(text) }))
    .filter((s) => s.words > LONG_SENTENCE);
  return {
    counts,
    ease: fleschEase(counts),
    grade: fleschKincaidGrade(counts),
    longSentences,
    repeated: repeatedWords(texts, counts.words),
  };
}

function repeatedWords(texts: readonly string[], total: number): RepeatedWord[] {
  const uses = new Map<string, { word: string; times: number }>();
  const doubled = new Map<string, number>();
  for (const text of texts) {
    let before = '';
    for (const match of text.matchAll(/[\p{L}\p{N}'’]+|[^\s\p{L}\p{N}'’]+/gu)) {
      const word = match[0].toLowerCase();
      if (/\p{L}/u.test(word) && word === before) doubled.set(word, (doubled.get(word) ?? 0) + 1);
      before = word;
    }
    for (const word of wordsOf(text)) {
      const plain = contentWords(word, 1)[0];
      if (!plain || /^\d+$/.test(plain) || !isTelling(word)) continue;
      const stem = stemOf(plain);
      const entry = uses.get(stem) ?? { word: word.toLowerCase(), times: 0 };
      entry.times++;
      uses.set(stem, entry);
    }
  }
  const often = [...uses.values()]
    .filter((u) => u.times >= OFTEN && u.times / total >= OFTEN_SHARE)
    .sort((a, b) => b.times - a.times || a.word.localeCompare(b.word))
    .slice(0, 12);
  return [
    ...[...doubled].map(([word, times]) => ({ word, times, doubled: true })),
    ...often.map((u) => ({ ...u, doubled: false })),
  ];
}

/** Is it not filler? `telling` gives filler back only when there is nothing else. */
const isTelling = (word: string) => contentWords(`${word} zz`, 1)[0] !== 'zz';
