import fc from 'fast-check';
import { jStat } from 'jstat';
import {
  bestHours,
  everyDay,
  groupResults,
  lastDays,
  medianInterval,
  rankCorrelation,
  shareInterval,
  spanBefore,
} from './index.js';

describe('what is more than chance', () => {
  // R. G. Newcombe, “Two-sided confidence intervals for the single proportion: comparison of seven methods”,
  // Statistics in Medicine 17 (1998), table I, method 3 (score, without continuity correction); from memory.
  it.each([
    [81, 263, 0.2553, 0.3662],
    [15, 148, 0.0624, 0.1605],
    [0, 20, 0.0, 0.1611],
    [1, 29, 0.0061, 0.1718],
  ])('a share of %i in %i lies between %f and %f', (k, n, low, high) => {
    const found = shareInterval(k, n)!;
    expect(found[0]).toBeCloseTo(low, 4);
    expect(found[1]).toBeCloseTo(high, 4);
  });
  it('a share of nothing lies nowhere', () => expect(shareInterval(0, 0)).toBeNull());

  // W. J. Conover, Practical Nonparametric Statistics, section 3.2: of 16 values the fourth and the thirteenth.
  it('a median lies between two of the values, and with fewer than six nowhere', () => {
    const values = [
      46.9, 47.2, 49.1, 56.5, 56.8, 59.2, 59.9, 63.2, 63.3, 63.4, 63.7, 64.1, 67.1, 67.7, 73.3, 78.5,
    ];
    expect(medianInterval(values)).toEqual([56.5, 67.1]);
    expect(medianInterval([1, 2, 3, 4, 5])).toBeNull();
    expect(medianInterval([6, 1, 5, 2, 4, 3])).toEqual([1, 6]);
  });

  it('rank correlation is that of jstat', () => {
    const numbers = fc.array(fc.integer({ min: -50, max: 50 }), { minLength: 2, maxLength: 30 });
    fc.assert(
      fc.property(numbers, fc.integer({ min: 0, max: 1e6 }), (xs, seed) => {
        const ys = xs.map((x, i) => (x * 7 + i * seed) % 23);
        const found = rankCorrelation(xs, ys);
        const reference = jStat.spearmancoeff(xs, ys);
        if (found === null) expect(Number.isFinite(reference)).toBe(false);
        else expect(found).toBeCloseTo(reference, 9);
      }),
    );
  });
});

describe('groups beside all others', () => {
  const rows = (name: string, values: number[]) => values.map((value) => ({ name, value }));
  const results = (all: { name: string; value: number }[]) =>
    groupResults(
      all,
      (r) => [r.name],
      (r) => r.value,
    );

  it('say what is more, what may be chance, and what is too few to tell', () => {
    const some = Array.from({ length: 20 }, (_, i) => 100 + i);
    const many = Array.from({ length: 20 }, (_, i) => 300 + i);
    const found = results([...rows('walks', some), ...rows('engines', many), ...rows('new', [900, 950])]);
    expect(found.map((g) => [g.key, g.count, g.median, g.verdict])).toEqual([
      ['engines', 20, 309.5, 'more'],
      ['walks', 20, 109.5, 'less'],
      ['new', 2, 925, 'too few'],
    ]);
    const alike = results([
      ...rows('a', some),
      ...rows(
        'b',
        some.map((v) => v + 1),
      ),
    ]);
    expect(alike.map((g) => g.verdict)).toEqual(['alike', 'alike']);
  });

  it('call chance a difference in few of many groups that are the same', () => {
    // Two hundred pairs of groups from one distribution, drawn by a generator with a seed.
    let seed = 7;
    const draw = () => ((seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648) ** 2 * 500;
    let told = 0;
    for (let i = 0; i < 200; i++) {
      const all = [
        ...rows('a', Array.from({ length: 12 }, draw)),
        ...rows('b', Array.from({ length: 60 }, draw)),
      ];
      told += results(all).filter((g) => g.verdict === 'more' || g.verdict === 'less').length > 0 ? 1 : 0;
    }
    expect(told).toBeLessThan(10);
  });

  it('find the hours that did better, and none where nothing can be told', () => {
    const at = (hour: number, seen: number[]) => seen.map((n) => ({ hour, seen: n }));
    const usual = [10, 12, 14, 11, 13, 15, 12];
    expect(
      bestHours([
        ...at(8, usual),
        ...at(9, usual),
        ...at(
          12,
          usual.map((n) => n * 5),
        ),
        ...at(20, [900, 901]),
      ]),
    ).toEqual([{ hour: 12, count: 7, median: 60 }]);
    expect(bestHours([...at(8, usual), ...at(12, usual)])).toEqual([]);
    expect(bestHours([])).toEqual([]);
  });
});

describe('spans', () => {
  it('are followed by nothing and preceded by as many days', () => {
    // Over the end of February in a leap year.
    const span = lastDays('2028-03-02', 7);
    expect(span).toEqual({ from: '2028-02-25', to: '2028-03-02' });
    expect(spanBefore(span)).toEqual({ from: '2028-02-18', to: '2028-02-24' });
    expect(everyDay({ from: '2028-02-28', to: '2028-03-01' }, new Map([['2028-02-29', 3]]))).toEqual([
      { day: '2028-02-28', value: 0 },
      { day: '2028-02-29', value: 3 },
      { day: '2028-03-01', value: 0 },
    ]);
  });
});
