import fc from 'fast-check';
import { countWords } from '../body/text.js';
import { segmentsOf } from './segment.js';

const whole = (text: string, granularity: 'word' | 'sentence') =>
  [...new Intl.Segmenter('en', { granularity }).segment(text)].map((s) => s.segment);
const pieces = (text: string, granularity: 'word' | 'sentence') =>
  [...segmentsOf(text, granularity)].map((s) => s.segment);

const word = fc.constantFrom(
  'lock',
  'o’clock',
  'don’t',
  'i.e.',
  'Mr.',
  '3.14',
  '1,000',
  'end.',
  'Why?',
  '“Quoted.”',
  '(aside)',
  '— ',
  'naïve',
  '👩‍👩‍👧‍👦',
  '運河の船',
  'ภาษาไทย',
  '\n',
  'e.g. lower',
  'www.lock.example/a_b-c',
);

describe('segments, piece by piece', () => {
  it('are those of the whole text', () => {
    fc.assert(
      fc.property(fc.array(word, { minLength: 1, maxLength: 1500 }), fc.boolean(), (words, apart) => {
        const text = words.join(apart ? ' ' : '');
        expect(pieces(text, 'word')).toEqual(whole(text, 'word'));
        expect(pieces(text, 'sentence')).toEqual(whole(text, 'sentence'));
      }),
      { numRuns: 60 },
    );
  });

  it('lose and double nothing, whatever the text is', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'binary', maxLength: 400 }),
        fc.integer({ min: 1, max: 60 }),
        (unit, n) => {
          const text = unit.repeat(n);
          for (const granularity of ['word', 'sentence'] as const)
            expect(pieces(text, granularity).join('')).toBe(text);
        },
      ),
    );
  });

  it('end where a run has no end', () => {
    const run = 'a'.repeat(200_000);
    expect(pieces(run, 'word').join('')).toBe(run);
    expect(pieces(run, 'sentence').join('')).toBe(run);
  });
});

describe('words', () => {
  it.each([
    // Common practice, no published source: a hyphen or an apostrophe within a word joins, a quotation mark does not.
    ['She said ’now’ and left', 5],
    ['a ‘first’ word', 3],
    ["it is 'quoted' here", 4],
    ['well-known and o’clock', 3],
    ['ten – twelve', 2],
    ['’tis', 1],
    ['left- handed', 2],
  ])('of “%s” are %i', (text, n) => {
    expect(countWords(text)).toBe(n);
  });
});
