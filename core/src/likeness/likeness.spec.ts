import { fc } from '../testing.js';
import { likeness, mostAlike, stemsOf } from './likeness.js';

const score = (a: string, b: string) => likeness(stemsOf(a), stemsOf(b)).score;

describe('likeness of titles', () => {
  it('takes words by Porter’s stems', () => {
    // M. F. Porter, "An algorithm for suffix stripping", Program 14 (1980): examples from its steps 1a, 1b, 2
    // and 4.
    const stems = {
      caresses: 'caress',
      ponies: 'poni',
      cats: 'cat',
      plastered: 'plaster',
      motoring: 'motor',
      relational: 'relat',
      hopefulness: 'hope',
      adjustment: 'adjust',
      effective: 'effect',
    };
    for (const [word, stem] of Object.entries(stems)) expect([...stemsOf(word).keys()]).toEqual([stem]);
  });
  it('is the Jaccard index of the telling words', () => {
    expect(score('Winter-proofing a raw water pump', 'Raw water pumps before the winter')).toBeCloseTo(4 / 6);
    expect(score('Five boatyards that still do rivets', 'Lentils, leeks and a slow stove')).toBe(0);
    expect(score('', '')).toBe(0);
  });
  it('names the one that is most alike, the older of two, and what they share', () => {
    const posts = [
      { id: 3, title: 'Bleeding a stubborn fuel line' },
      { id: 1, title: 'Bleed the fuel line' },
      { id: 2, title: 'The fuel line, bled by night' },
      { id: 9, title: 'Bleeding the fuel line' },
    ];
    expect(mostAlike('How to bleed a fuel line', posts)).toMatchObject({
      score: 1,
      post: { id: 1 },
      shared: ['bleed', 'fuel', 'line'],
    });
    expect(mostAlike('A line of washing', posts)).toBeNull();
    expect(mostAlike('Лодка в тумане', [{ id: 1, title: 'Лодка в тумане' }])).toMatchObject({ score: 1 });
  });
  it('is the same both ways, between 0 and 1, and 1 with itself (property)', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), fc.string({ unit: 'grapheme' }), (a, b) => {
        expect(score(a, b)).toBe(score(b, a));
        expect(score(a, b)).toBeLessThanOrEqual(1);
        if (stemsOf(a).size > 0) expect(score(a, a)).toBe(1);
      }),
    );
  });
});
