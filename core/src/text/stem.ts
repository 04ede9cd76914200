import { stemmer } from 'stemmer';

/**
 * A run of more letters is no word of a language (the longest in large English dictionaries has 45; from memory): it is
 * kept as it is and not taken apart, since the cost of that grows with the square of its length.
 */
export const LONGEST_WORD = 100;

/** The stem of a word, by Porter's algorithm (M. F. Porter, 1980); of what is no word, its beginning. */
export const stemOf = (word: string): string =>
  word.length > LONGEST_WORD ? word.slice(0, LONGEST_WORD) : stemmer(word);
