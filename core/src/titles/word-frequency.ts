import { STEP, WORDS_BY_LEVEL } from './data/word-frequencies.js';

/** How unexpected single words of English are. */
export interface WordFrequencies {
  /**
   * Surprisal in bits: 10 is a word that comes once in 2^10 words. Null for a word that the list does not have. Small
   * letters go in.
   */
  bits(word: string): number | null;
  /** The bits of the rarest word in the list. */
  readonly most: number;
}

/**
 * The published frequencies of SUBTLEXus (M. Brysbaert and B. New, Behavior Research Methods 41, 2009), to half a bit.
 * Heavy; made once, in the worker.
 */
export function publishedFrequencies(): WordFrequencies {
  const bits = new Map<string, number>();
  let most = 0;
  for (const [level, words] of Object.entries(WORDS_BY_LEVEL)) {
    most = Math.max(most, Number(level) * STEP);
    for (const word of words.split(' ')) bits.set(word, Number(level) * STEP);
  }
  // The list has what stands before an apostrophe as a word of its own.
  return { most, bits: (word) => bits.get(word) ?? bits.get(word.replace(/'.*$/, '')) ?? null };
}
