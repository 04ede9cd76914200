import { stemOf } from '../text/stem.js';
import { wordsOf } from '../reading/reading.js';
import { contentWords } from '../slug/slug.js';
import { formOfTitle, namesIn, numbersIn, type TitleForm } from './title-form.js';
import type { TitleIndex } from './title-index.js';
import { ENTRY, textWidth } from './width.js';
import type { WordFrequencies } from './word-frequency.js';

export const TITLE_FACTS = ['length', 'width', 'phrase', 'words', 'form', 'used'] as const;
export type TitleFactKey = (typeof TITLE_FACTS)[number];
export const FACT_NAMES: Record<TitleFactKey, string> = {
  length: 'Length',
  width: 'In a search entry',
  phrase: 'What the post is about',
  words: 'Least expected word',
  form: 'Form',
  used: 'Titles already used',
};

/** One thing that is so about a title. Facts are not added up: what they mean, the editor knows. */
export interface TitleFact {
  key: TitleFactKey;
  sentence: string;
  /** Something that readers will notice: it is cut, or stands on the blog already. */
  alert: boolean;
}

export interface MeasuredTitle {
  title: string;
  facts: TitleFact[];
  form: TitleForm;
  /** The earlier title it is nearest to, if any word is shared. */
  nearest: { id: number; title: string; share: number } | null;
}

/** Titles have about 55 characters, 60 at most (common practice, no published source). */
export const TITLE_LENGTH = { usual: 55, max: 60 } as const;
/** From this share of common words on, an earlier title is told; from half on, readers take it for the same. */
const NEAR = 0.2;
const SAME = 0.5;

const quoted = (words: readonly string[], max = 3) =>
  words
    .slice(0, max)
    .map((w) => `“${w}”`)
    .join(', ');

function length(title: string): TitleFact {
  const n = [...title].length;
  return {
    key: 'length',
    alert: n > TITLE_LENGTH.max,
    sentence: `${n} ${n === 1 ? 'character' : 'characters'}; about ${TITLE_LENGTH.usual} are usual, ${TITLE_LENGTH.max} at most.`,
  };
}

function width(title: string): TitleFact {
  const px = Math.round(textWidth(title, ENTRY.size));
  return {
    key: 'width',
    alert: px > ENTRY.room,
    sentence:
      px > ENTRY.room
        ? `${px} px wide: it is cut at ${ENTRY.room}.`
        : `${px} px of the ${ENTRY.room} that it has.`,
  };
}

function phrase(title: string, keyWords: readonly string[]): TitleFact {
  if (keyWords.length === 0)
    return { key: 'phrase', alert: false, sentence: 'The post has no text yet that would say it.' };
  const keys = new Set(keyWords.map((w) => stemOf(w)));
  const words = wordsOf(title);
  const at = words.findIndex((w) => keys.has(stemOf(contentWords(w, 1)[0] ?? '')));
  return {
    key: 'phrase',
    alert: false,
    sentence:
      at < 0
        ? `None of its key words (${keyWords.slice(0, 3).join(', ')}) is in the title.`
        : `“${words[at]}” is its word ${at + 1} of ${words.length}.`,
  };
}

/** `once in 65,000 words`, from bits of surprisal. */
const onceIn = (bits: number) => {
  const n = 2 ** bits;
  const digits = 10 ** Math.max(0, Math.floor(Math.log10(n)) - 1);
  return `once in ${(Math.round(n / digits) * digits).toLocaleString('en-GB')} words`;
};

function rarest(title: string, frequencies: WordFrequencies): TitleFact {
  const words = wordsOf(title).filter((w) => /\p{L}/u.test(w));
  if (words.length === 0) return { key: 'words', alert: false, sentence: 'No words yet.' };
  const known = words.map((word) => ({
    word,
    bits: frequencies.bits(word.toLowerCase().replace(/’/g, "'")),
  }));
  const unlisted = known.filter((w) => w.bits === null).map((w) => w.word);
  const top = known.reduce((a, b) => ((b.bits ?? 0) > (a.bits ?? 0) ? b : a));
  return {
    key: 'words',
    alert: false,
    sentence:
      unlisted.length > 0
        ? `${quoted(unlisted)}: rarer than ${onceIn(frequencies.most)} of film subtitles, or a name.`
        : `“${top.word}”, said ${onceIn(top.bits!)} in film subtitles.`,
  };
}

function form(title: string): TitleFact {
  const [numbers, names] = [numbersIn(title), namesIn(title)];
  const said: Record<TitleForm, string> = {
    question: 'It asks a question.',
    'how-to': 'It says how to do something.',
    number: `It has a number: ${quoted(numbers)}.`,
    name: `It names ${quoted(names)}.`,
    statement: 'A plain statement: no question, no number, no name.',
  };
  return { key: 'form', alert: false, sentence: said[formOfTitle(title)] };
}

function used(nearest: MeasuredTitle['nearest']): TitleFact {
  const share = nearest?.share ?? 0;
  return {
    key: 'used',
    alert: share >= SAME,
    sentence:
      nearest && share > NEAR
        ? `Shares ${Math.round(share * 100)}% of its words with “${nearest.title}”.`
        : 'No earlier title is near it.',
  };
}

/** Measures one title. `keyWords` are the words that the post is about, most important first. */
export function measureTitle(
  title: string,
  frequencies: WordFrequencies,
  index: TitleIndex,
  keyWords: readonly string[],
  postId: number | null = null,
): MeasuredTitle {
  const nearest = index.nearest(title, postId);
  return {
    title,
    form: formOfTitle(title),
    nearest,
    facts: [
      length(title),
      width(title),
      phrase(title, keyWords),
      rarest(title, frequencies),
      form(title),
      used(nearest),
    ],
  };
}
