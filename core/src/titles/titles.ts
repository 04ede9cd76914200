import { stemmer } from 'stemmer';
import { contentWords } from '../slug/slug.js';
import { wordsOf } from '../reading/reading.js';
import type { Lexicon } from './lexicon.js';
import {
  type Signal,
  type SignalKey,
  apart,
  concrete,
  drive,
  early,
  familiar,
  feeling,
  lengthInCharacters,
  lengthInWords,
  width,
} from './signals.js';
import { TitleIndex } from './title-index.js';

/**
 * How much each signal counts in the rank; common practice puts length and words first (no published source).
 * Key words count nothing: what an old post was about when its title was chosen cannot be measured any more,
 * and the rank compares.
 */
export const WEIGHTS: Record<SignalKey, number> = {
  words: 2,
  characters: 2,
  width: 1,
  familiar: 2,
  feeling: 1,
  drive: 1.5,
  concrete: 1.5,
  early: 0,
  apart: 1.5,
};

const ALL_WEIGHTS = Object.values(WEIGHTS).reduce((a, b) => a + b, 0);

export interface ScoredTitle {
  signals: Signal[];
  /** 0 to 1. */
  score: number;
  /** The earlier title it is nearest to, if any word is shared. */
  nearest: { id: number; title: string; share: number } | null;
}

/** Measures one title. `keyWords` are the words that the post is about, most important first. */
export function scoreTitle(
  title: string,
  lexicon: Lexicon,
  index: TitleIndex,
  keyWords: readonly string[],
  postId: number | null = null,
): ScoredTitle {
  const written = wordsOf(title);
  const words = written.map((w) => w.toLowerCase().replace(/’/g, "'"));
  const signals = [
    lengthInWords(title),
    lengthInCharacters(title),
    width(title),
    familiar(written, words, lexicon),
    feeling(words, lexicon),
    drive(words, lexicon),
    concrete(title, written),
    early(title, keyWords),
  ];
  const nearest = index.nearest(title, postId);
  signals.push(apart(nearest));
  return {
    signals,
    score: signals.reduce((sum, s) => sum + s.score * WEIGHTS[s.key], 0) / ALL_WEIGHTS,
    nearest,
  };
}

/**
 * Words that a text is about: its telling words by how often they come, those of the headings and the
 * category counted thrice.
 */
export function keyWordsOf(
  parts: { text: string; headings: readonly string[]; category: string | null },
  max = 8,
): string[] {
  const uses = new Map<string, { word: string; times: number }>();
  const count = (text: string, weight: number) => {
    for (const word of wordsOf(text)) {
      const plain = contentWords(`${word} zz`, 1)[0]!;
      if (plain === 'zz' || /^\d/.test(plain) || plain.length < 3) continue;
      const stem = stemmer(plain);
      const entry = uses.get(stem) ?? { word: plain, times: 0 };
      entry.times += weight;
      uses.set(stem, entry);
    }
  };
  count(parts.text.slice(0, 60_000), 1);
  for (const h of parts.headings) count(h, 3);
  if (parts.category) count(parts.category, 3);
  return [...uses.values()]
    .filter((u) => u.times > 1)
    .sort((a, b) => b.times - a.times || a.word.localeCompare(b.word))
    .slice(0, max)
    .map((u) => u.word);
}
