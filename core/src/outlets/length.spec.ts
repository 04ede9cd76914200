import fc from 'fast-check';
import { splitGraphemes } from 'unicode-segmenter/grapheme';
import { fitSentence, graphemesOf, lengthOf } from '../index.js';

describe('lengths', () => {
  it('count graphemes as another reader of UAX #29 does', () => {
    // The package unicode-segmenter, which is tested against the Unicode Character Database's own file. One or
    // more of each class of that annex's table 2, and of its examples.
    const parts = [
      ...['a', ' ', '\r', '\n', '\u0001', '\u00ad', '\u0301', '\u0903', '\u0e33', '\u200d', '\u200c'],
      ...[
        '\u1100',
        '\u1161',
        '\u11a8',
        '\uac00',
        '\uac01',
        '🇬',
        '🇧',
        '👩',
        '❤\ufe0f',
        '🏽',
        '🏴',
        '\u{e0067}',
      ],
      ...['क', '्', 'ष', 'ि', '\u0600', '9\ufe0f\u20e3', 'é', 'ß', '漢', '👨‍👩‍👧‍👦', '🏳️‍🌈'],
    ];
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...parts), { maxLength: 12 }), (chosen) => {
        const text = chosen.join('');
        expect(graphemesOf(text)).toEqual([...splitGraphemes(text)]);
      }),
      { numRuns: 3000 },
    );
  });

  it('count as the outlet’s protocol does, and links for what they cost there', () => {
    const family = '👩‍👩‍👧 é';
    expect(
      [...(['graphemes', 'code points', 'UTF-16 units', 'bytes'] as const)].map((unit) =>
        lengthOf(family, { unit, linkCost: null }),
      ),
    ).toEqual([3, 7, 10, Buffer.byteLength(family)]);
    expect(
      lengthOf('See https://halfwaylock.example/a-very-long-address, now', {
        unit: 'graphemes',
        linkCost: 20,
      }),
    ).toBe('See , now'.length + 20);
  });

  it('are kept to without cutting words, links or graphemes', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.constantFrom(
            'gland',
            'https://halfwaylock.example/x',
            '👩‍👩‍👧',
            'naïve,',
            'weir;',
            'a',
            'drips',
            '水路',
            'é́',
          ),
          { minLength: 1, maxLength: 30 },
        ),
        fc.integer({ min: 1, max: 120 }),
        (words, max) => {
          const whole = words.join(' ');
          const fitted = fitSentence(whole, (t) => graphemesOf(t).length <= max);
          if (fitted === null) return;
          expect(graphemesOf(fitted).length).toBeLessThanOrEqual(max);
          const kept = fitted.replace(/ …$/, '').split(' ');
          kept.forEach((word, i) =>
            expect(i === kept.length - 1 ? words[i]!.replace(/[,;]$/, '') : words[i]).toBe(
              i === kept.length - 1 ? word.replace(/[,;]$/, '') : word,
            ),
          );
        },
      ),
    );
  });
});
