import { stemmer } from 'stemmer';
import { contentWords } from '../slug/slug.js';
import { countWords } from '../body/text.js';
import { wordsOf } from '../reading/reading.js';
import type { Lexicon } from './lexicon.js';
import { ENTRY, textWidth } from './width.js';
import { type ScoredTitle } from './titles.js';

export const SIGNALS = [
  'words',
  'characters',
  'width',
  'familiar',
  'feeling',
  'drive',
  'concrete',
  'early',
  'apart',
] as const;

export type SignalKey = (typeof SIGNALS)[number];

/** One measure of a title. */
export interface Signal {
  key: SignalKey;
  /** 0 to 1: how well it does by common practice. */
  score: number;
  sentence: string;
}

export const SIGNAL_NAMES: Record<SignalKey, string> = {
  words: 'Words',
  characters: 'Characters',
  width: 'Width in a search entry',
  familiar: 'Familiar words, one telling',
  feeling: 'Feeling',
  drive: 'A word that moves',
  concrete: 'Something concrete',
  early: 'Key words early',
  apart: 'Unlike earlier titles',
};

/** Titles are about 6 words and 55 characters, 60 at most (common practice, no published source). */
export const TITLE_LENGTH = { words: 6, characters: 55, max: 60 } as const;

/** Falls from 1 at `best` to 0 at `none`. */
const fall = (value: number, best: number, none: number) =>
  Math.min(1, Math.max(0, (none - value) / (none - best)));

export function lengthInWords(title: string): Signal {
  const n = countWords(title);
  const score =
    n === 0
      ? 0
      : n <= TITLE_LENGTH.words
        ? fall(TITLE_LENGTH.words - n, 1, 5)
        : fall(n, TITLE_LENGTH.words + 2, 16);
  return {
    key: 'words',
    score,
    sentence: `${n} ${n === 1 ? 'word' : 'words'}; about ${TITLE_LENGTH.words} are read in one look.`,
  };
}

export function lengthInCharacters(title: string): Signal {
  const n = [...title].length;
  const score = n === 0 ? 0 : n < 25 ? n / 25 : fall(n, TITLE_LENGTH.characters, 85);
  return {
    key: 'characters',
    score,
    sentence: `${n} characters; ${TITLE_LENGTH.characters} are right, ${TITLE_LENGTH.max} at most.`,
  };
}

export function width(title: string): Signal {
  const px = Math.round(textWidth(title, ENTRY.size));
  return {
    key: 'width',
    score: px === 0 ? 0 : fall(px, ENTRY.room, ENTRY.room * 1.5),
    sentence:
      px > ENTRY.room
        ? `${px} px: a search entry cuts it at ${ENTRY.room}.`
        : `${px} px of the ${ENTRY.room} a search entry has.`,
  };
}

export function familiar(written: readonly string[], words: readonly string[], lexicon: Lexicon): Signal {
  if (words.length === 0) return { key: 'familiar', score: 0, sentence: 'No words yet.' };
  const rare = written.filter(
    (_, i) =>
      !/^\d/.test(words[i]!) &&
      !lexicon.familiar(words[i]!) &&
      !lexicon.familiar(words[i]!.replace(/'s$/, '')),
  );
  const share = 1 - rare.length / words.length;
  const score = fall(1 - share, 0.35, 0.9) * (rare.length > 0 ? 1 : 0.6);
  const sentence =
    rare.length === 0
      ? 'Every word is familiar; a telling one among them would stand out.'
      : `${Math.round(share * 100)}% familiar words; telling: ${rare
          .slice(0, 4)
          .map((w) => `“${w}”`)
          .join(', ')}.`;
  return { key: 'familiar', score, sentence };
}

export function feeling(words: readonly string[], lexicon: Lexicon): Signal {
  const felt = words.filter((w) => lexicon.feeling(w) !== 0);
  const sum = felt.reduce((total, w) => total + Math.abs(lexicon.feeling(w)), 0);
  return {
    key: 'feeling',
    score: Math.min(1, sum / 3),
    sentence:
      felt.length === 0
        ? 'No word with feeling in it, glad or grim.'
        : `Feeling in ${felt
            .slice(0, 3)
            .map((w) => `“${w}” (${lexicon.feeling(w) > 0 ? '+' : '−'}${Math.abs(lexicon.feeling(w))})`)
            .join(', ')}.`,
  };
}

export function drive(words: readonly string[], lexicon: Lexicon): Signal {
  const moving = words.filter((w) => lexicon.moves(w));
  return {
    key: 'drive',
    score: moving.length > 0 ? 1 : 0,
    sentence:
      moving.length > 0
        ? `Moves: ${moving
            .slice(0, 3)
            .map((w) => `“${w}”`)
            .join(', ')}.`
        : 'No verb that moves something.',
  };
}

const NUMBER_WORDS = new Set(
  (
    'two three four five six seven eight nine ten eleven twelve thirteen twenty thirty ' +
    'forty fifty hundred thousand'
  ).split(' '),
);

export function concrete(title: string, written: readonly string[]): Signal {
  const numbers = written.filter((w) => /^\d/.test(w) || NUMBER_WORDS.has(w.toLowerCase()));
  // In a title set like a sentence, a capital after the first word marks a name; set Like This, none can be
  // told.
  const capitals = written.slice(1).filter((w) => /^\p{Lu}/u.test(w) && w !== 'I' && !/^I['’]/.test(w));
  const headline = written.length > 3 && capitals.length >= (written.length - 1) * 0.7;
  const names = headline ? [] : capitals;
  const found = [...numbers, ...names];
  return {
    key: 'concrete',
    score: found.length > 0 || /["“”]/.test(title) ? 1 : 0,
    sentence:
      found.length > 0
        ? `Concrete: ${found
            .slice(0, 3)
            .map((w) => `“${w}”`)
            .join(', ')}.`
        : 'No number and no name to hold on to.',
  };
}

export function early(title: string, keyWords: readonly string[]): Signal {
  if (keyWords.length === 0)
    return {
      key: 'early',
      score: 0.5,
      sentence: 'The post has no text yet that would say what its key words are.',
    };
  const keys = new Set(keyWords.map((w) => stemmer(w)));
  const stems = wordsOf(title).map((w) => stemmer(contentWords(w, 1)[0] ?? ''));
  const at = stems.findIndex((s) => keys.has(s));
  if (at < 0)
    return {
      key: 'early',
      score: 0,
      sentence: `None of the post’s key words (${keyWords.slice(0, 3).join(', ')}) is in it.`,
    };
  return {
    key: 'early',
    score: at < 3 ? 1 : fall(at, 2, 8),
    sentence: `The first key word is word ${at + 1}${at < 3 ? '.' : '; within the first three it is seen.'}`,
  };
}

export function apart(nearest: ScoredTitle['nearest']): Signal {
  const share = nearest?.share ?? 0;
  return {
    key: 'apart',
    score: fall(share, 0.2, 0.8),
    sentence:
      nearest && share > 0.2
        ? `Shares ${Math.round(share * 100)}% of its words with “${nearest.title}”.`
        : 'No earlier title is near it.',
  };
}
