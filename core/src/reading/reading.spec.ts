import { flesch } from 'flesch';
import { fleschKincaid } from 'flesch-kincaid';
import type { BodyNode } from '../body/schema.js';
import { fc } from '../testing.js';
import { countReading, fleschEase, fleschKincaidGrade, readingOf, sentencesOf } from './reading.js';

const doc = (...texts: string[]): BodyNode => ({
  type: 'doc',
  content: texts.map((text) => ({ type: 'paragraph', content: [{ type: 'text', text }] })),
});

describe('readability', () => {
  // Worked examples of the encyclopedia article “Flesch–Kincaid readability tests” (Wikipedia), from memory;
  // the article's own counts of syllables.
  it.each([
    ['The cat sat on the mat.', 6, 116, -1.4],
    ['This sentence, taken as a reading passage unto itself, is being used to prove a point.', 23, 69, 7.6],
    ['The Australian platypus is seemingly a hybrid of a mammal and reptilian creature.', 24, 37.5, 11.3],
  ])('%s', (text, syllables, ease, grade) => {
    const counts = { ...countReading([text]), syllables };
    expect(Math.abs(fleschEase(counts)! - ease)).toBeLessThan(0.2);
    expect(Math.abs(fleschKincaidGrade(counts)! - grade)).toBeLessThan(0.15);
  });
  // As dictionaries part them (from memory).
  it.each([
    ['cat', 1],
    ['paddle', 2],
    ['canal', 2],
    ['reptilian', 4],
    ['Australian', 4],
    ['calorifier', 5],
    ['gates', 1],
    ['closed', 1],
    ['winter', 2],
    ['quiet', 2],
  ])('%s has %i syllables', (word, syllables) => {
    expect(countReading([word]).syllables).toBe(syllables);
  });
  it('agrees with an independent package on any counts', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 500 }),
        fc.integer({ min: 1, max: 30 }),
        fc.integer({ min: 1, max: 4 }),
        (sentences, perSentence, perWord) => {
          const counts = {
            sentences,
            words: sentences * perSentence,
            syllables: sentences * perSentence * perWord,
          };
          expect(fleschEase(counts)!).toBeCloseTo(
            flesch({ sentence: counts.sentences, word: counts.words, syllable: counts.syllables }),
            6,
          );
          expect(fleschKincaidGrade(counts)!).toBeCloseTo(
            fleschKincaid({ sentence: counts.sentences, word: counts.words, syllable: counts.syllables }),
            6,
          );
        },
      ),
    );
  });
  it('has nothing to say of nothing', () => {
    expect(readingOf(doc(''))).toMatchObject({ ease: null, grade: null, longSentences: [], repeated: [] });
  });
  it('parts sentences where readers do', () => {
    expect(sentencesOf('Close it. Is it shut? Yes! 3.5 km to go.')).toEqual([
      'Close it.',
      'Is it shut?',
      'Yes!',
      '3.5 km to go.',
    ]);
    expect(sentencesOf(' … ')).toEqual([]);
  });
  it('finds long sentences and words that stand twice or too often', () => {
    const long = `${'Word '.repeat(31).trim()}.`;
    const reading = readingOf(
      doc(`Turn the the key. ${long}`, 'Paddle, paddles and paddling: the paddle of a paddle.'),
    );
    expect(reading.longSentences.map((s) => s.words)).toEqual([31]);
    expect(reading.repeated.filter((r) => r.doubled).map((r) => r.word)).toEqual(['the', 'word']);
    expect(reading.repeated.find((r) => r.word === 'paddle')?.times).toBe(5);
  });
  it('does not count headings and code', () => {
    const body: BodyNode = {
      type: 'doc',
      content: [
        { type: 'heading', attrs: { level: 2 }, content: [{ type: 'text', text: 'Incomprehensibilities' }] },
        { type: 'codeBlock', content: [{ type: 'text', text: 'x y' }] },
        ...doc('One two.').content!,
      ],
    };
    expect(readingOf(body).counts).toMatchObject({ sentences: 1, words: 2, syllables: 2, unmeasured: 0 });
  });

  // The longest word of large English dictionaries has 45 letters (from memory); no language writes 300,000.
  it.each(['z', "z'z", 'zing', 'é'])(
    'measures a text of %s without end at once, and says what it skipped',
    (run) => {
      const words = 'The lock was full. We waited. '.repeat(30);
      const text = `${words}${run.repeat(300_000 / run.length)}`;
      const body = { type: 'doc', content: [{ type: 'paragraph', content: [{ type: 'text', text }] }] };
      const { counts, ease } = readingOf(body);
      expect(counts).toMatchObject({ words: 180, tooLong: false });
      expect(counts.unmeasured).toBeGreaterThan(0);
      expect(ease).toBeCloseTo(fleschEase({ ...countReading([words]), sentences: counts.sentences })!, 6);
      expect(countReading([run.repeat(2_000_001)])).toMatchObject({ words: 0, tooLong: true });
    },
  );
});
