import { wordsOf } from '../reading/reading.js';

/** What a title is by its form; the first that holds. */
export const TITLE_FORMS = ['question', 'how-to', 'number', 'name', 'statement'] as const;
export type TitleForm = (typeof TITLE_FORMS)[number];

export const FORM_NAMES: Record<TitleForm, string> = {
  question: 'titles that ask a question',
  'how-to': 'titles that say how to do something',
  number: 'titles with a number',
  name: 'titles that name somebody or something',
  statement: 'plain statements',
};

const NUMBER_WORDS = new Set(
  (
    'two three four five six seven eight nine ten eleven twelve thirteen twenty thirty ' +
    'forty fifty hundred thousand'
  ).split(' '),
);

/** Numbers in a title, as they are written. */
export const numbersIn = (title: string): string[] =>
  wordsOf(title).filter((w) => /^\d/.test(w) || NUMBER_WORDS.has(w.toLowerCase()));

/**
 * Names in a title. Where it is set like a sentence, a capital after the first word marks one; where it is Set Like
 * This, none can be told.
 */
export function namesIn(title: string): string[] {
  const words = wordsOf(title);
  const capitals = words.slice(1).filter((w) => /^\p{Lu}/u.test(w) && w !== 'I' && !/^I['’]/.test(w));
  return words.length > 3 && capitals.length >= (words.length - 1) * 0.7 ? [] : capitals;
}

export function formOfTitle(title: string): TitleForm {
  if (/[?？؟]["”’)]*\s*$/u.test(title)) return 'question';
  if (/^\W*how to\b/i.test(title)) return 'how-to';
  if (numbersIn(title).length > 0) return 'number';
  return namesIn(title).length > 0 ? 'name' : 'statement';
}
