import fc from 'fast-check';
import {
  completionsOf,
  FILTER_KEYS,
  parseFilter,
  formatSpan,
  spanOf,
  tokenError,
  writeFilter,
  type FilterKey,
} from '../index.js';

const names = {
  byline: ['Tobias Orme', 'Mara Winslow'],
  category: ['Engine room', 'Galley'],
  tag: ['stern gear', 'weirs'],
};

describe('a filter line', () => {
  it('is read as tokens and words', () => {
    expect(
      parseFilter(
        '"raw water" -pump byline:"Tobias Orme" -tag:weirs released:2023..2024 https://a.example/x',
      ),
    ).toEqual({
      words: '"raw water" -pump https://a.example/x',
      tokens: [
        { key: 'byline', value: 'Tobias Orme', not: false },
        { key: 'tag', value: 'weirs', not: true },
        { key: 'released', value: '2023..2024', not: false },
      ],
    });
    expect(parseFilter('byline: tag:"" winter')).toEqual({ words: 'byline: winter', tokens: [] });
    expect(parseFilter('constructor:x "open')).toEqual({ words: 'constructor:x "open', tokens: [] });
  });

  it('reads back as it was written, whatever the values are', () => {
    const value = fc
      .string({ unit: 'grapheme', minLength: 1, maxLength: 20 })
      .map((v) => v.normalize('NFC').replaceAll('"', '').trim())
      .filter((v) => v !== '' && v.normalize('NFC') === v);
    const token = fc.record({
      key: fc.constantFrom(...(Object.keys(FILTER_KEYS) as FilterKey[])),
      value,
      not: fc.boolean(),
    });
    fc.assert(
      fc.property(
        fc.array(token, { maxLength: 5 }),
        fc.constantFrom('', 'winter', '"raw water" -pump'),
        (tokens, words) => {
          expect(parseFilter(writeFilter({ tokens, words }))).toEqual({ tokens, words });
        },
      ),
    );
  });

  it('never takes long, and never loses a letter of the words', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), (line) => {
        const read = parseFilter(line);
        if (read.tokens.length === 0)
          expect(read.words.replace(/\s/gu, '')).toBe(line.normalize('NFC').replace(/\s/gu, ''));
      }),
    );
  });
});

describe('spans of days', () => {
  it('cover years, months, days and what lies between', () => {
    expect(spanOf('2023')).toEqual({ from: '2023-01-01', until: '2024-01-01' });
    expect(spanOf('2024-02')).toEqual({ from: '2024-02-01', until: '2024-03-01' });
    expect(spanOf('2023-12')).toEqual({ from: '2023-12-01', until: '2024-01-01' });
    expect(spanOf('2024-02-29')).toEqual({ from: '2024-02-29', until: '2024-03-01' });
    expect(spanOf('2023-05..2024')).toEqual({ from: '2023-05-01', until: '2025-01-01' });
    expect(spanOf('..2023-05-04')).toEqual({ from: null, until: '2023-05-05' });
    expect(spanOf('2023..')).toEqual({ from: '2023-01-01', until: null });
    for (const bad of [
      '',
      '..',
      '2023-13',
      '2023-02-29',
      '20230101',
      '2024..2023',
      'a..b',
      '1..2..3',
      '0000',
    ])
      expect(spanOf(bad)).toBeNull();
  });

  it('are said in words', () => {
    expect(formatSpan('2023', '2026-11-25')).toBe('2023');
    expect(formatSpan('2024-05', '2026-11-25')).toBe('May 2024');
    expect(formatSpan('..2023-12-31', '2026-11-25')).toBe('before Mon 1 Jan 2024');
    expect(formatSpan('2026-11-02..2026-11-08', '2026-11-25')).toBe('Mon 2 Nov to Sun 8 Nov');
  });
});

describe('tokens', () => {
  const error = (line: string) => tokenError(parseFilter(line).tokens[0]!, names);
  it('say what is wrong with them', () => {
    expect(error('byline:"tobias orme"')).toBeNull();
    expect(error('byline:nobody')).toBeNull();
    expect(error('byline:Tobi')).toBe('There is no byline “Tobi” on this blog.');
    expect(error('stage:drafted')).toMatch(/^stage knows pitch, commissioned/);
    expect(error('released:soon')).toMatch(/no span of days/);
    expect(error('batch:twelve')).toBe('“twelve” is no number.');
  });

  it('are completed from keys, values, and names without their key', () => {
    const put = (word: string) => completionsOf(word, names, '2026-11-25').map((c) => c.put);
    expect(put('by')).toEqual(['byline:']);
    expect(put('byline:to')).toEqual(['byline:"Tobias Orme"']);
    expect(put('-byline:win')).toEqual(['-byline:"Mara Winslow"']);
    expect(put('eng')).toEqual(['category:"Engine room"']);
    expect(put('released:202')[0]).toBe('released:2026-11');
    expect(put('')).toEqual([]);
  });
});
