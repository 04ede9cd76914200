import { fc } from '../testing.js';
import type { BodyNode } from '../body/schema.js';
import { EMPTY_TEXTS } from '../posts/testing.js';
import { countLeftovers, leftoversOf, type CopiedPart } from './leftovers.js';
import { containment, estimate, jaccard, shingles, signature } from './minhash.js';

describe('alike texts', () => {
  it('makes a shingle of every run of words, whatever stands between them', () => {
    expect(shingles('Close the top paddle, slowly').size).toBe(2);
    expect(shingles('CLOSE—the top:paddle SLOWLY')).toEqual(shingles('Close the top paddle, slowly'));
    expect(shingles('too short').size).toBe(1);
    expect(shingles(' … ').size).toBe(0);
  });
  it('measures sets as Jaccard did', () => {
    // P. Jaccard, 1901: shared out of all.
    expect(jaccard(new Set([1, 2, 3, 4]), new Set([3, 4, 5]))).toBeCloseTo(2 / 5);
    expect([
      jaccard(new Set(), new Set()),
      jaccard(new Set([1]), new Set([1])),
      containment(new Set([1, 2]), new Set([2, 3])),
      containment(new Set(), new Set([1])),
    ]).toEqual([0, 1, 0.5, 0]);
  });
  it('estimates the exact index within the error of 128 values', () => {
    // Standard error √(J(1−J)/128) is at most 0.045 (Broder, 1997); five of them hold for every one of these
    // pairs.
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 400 }),
        fc.integer({ min: 1, max: 400 }),
        fc.integer(),
        (shared, apart, seed) => {
          const number = (i: number) => Math.imul(i + 1, 2654435761) ^ seed;
          const a = new Set(Array.from({ length: shared + apart }, (_, i) => number(i) >>> 0));
          const b = new Set(
            Array.from({ length: shared + apart }, (_, i) => number(i < shared ? i : i + 100_000) >>> 0),
          );
          const exact = jaccard(a, b);
          expect(Math.abs(estimate(signature(a), signature(b)) - exact)).toBeLessThan(0.225);
        },
      ),
      { numRuns: 60, seed: 7 },
    );
  });
  it('is right on average, to a hundredth', () => {
    let error = 0;
    for (let round = 0; round < 60; round++) {
      const a = new Set(Array.from({ length: 300 }, (_, i) => Math.imul(i + round * 1000, 40503) >>> 0));
      const b = new Set(
        [...a]
          .slice(0, 200)
          .concat(Array.from({ length: 100 }, (_, i) => Math.imul(i + round * 1000 + 500, 2246822519) >>> 0)),
      );
      error += estimate(signature(a), signature(b)) - jaccard(a, b);
    }
    expect(Math.abs(error / 60)).toBeLessThan(0.012);
  });
});

describe('leftovers of a copied post', () => {
  const p = (text: string): BodyNode => ({ type: 'paragraph', content: [{ type: 'text', text }] });
  const source: CopiedPart = {
    ...EMPTY_TEXTS,
    title: 'Draining a calorifier',
    excerpt: 'Before the frost.',
    slug: 'draining-calorifier',
    leadPicture: { media: 4, alt: 'a drain' },
    sharePicture: 7,
    subtitle: 'And a tap',
    searchTitle: '',
    searchDescription: 'How to drain.',
    body: {
      type: 'doc',
      content: [
        p('Close the cold feed before you open the drain.'),
        { type: 'heading', attrs: { level: 2 }, content: [{ type: 'text', text: 'What you need' }] },
        { type: 'picture', attrs: { media: 9, alt: 'a tap' } },
        p('A bucket.'),
      ],
    },
  };
  it('counts everything at first, and nothing once all is replaced', () => {
    const all = leftoversOf({ ...source, slug: 'draining-calorifier-2' }, source);
    expect(all).toEqual({
      fields: ['title', 'excerpt', 'subtitle', 'slug', 'leadPicture', 'sharePicture', 'searchDescription'],
      blocks: [0, 1, 2],
    });
    expect(countLeftovers(all)).toBe(10);
    const none = leftoversOf(
      {
        ...EMPTY_TEXTS,
        title: 'Winter and the pump',
        excerpt: 'Six turns.',
        slug: 'winter-pump',
        leadPicture: { media: 5, alt: 'a drain' },
        sharePicture: null,
        subtitle: 'And a spanner',
        searchTitle: '',
        searchDescription: '',
        body: {
          type: 'doc',
          content: [
            p('Turn the engine over by hand, six full turns.'),
            { type: 'picture', attrs: { media: 10, alt: 'a pump' } },
            p('A spanner.'),
          ],
        },
      },
      source,
    );
    expect(countLeftovers(none)).toBe(0);
  });
  it('sees a paragraph through small changes, and lets it go as it is rewritten', () => {
    const after = (text: string) =>
      leftoversOf({ ...source, body: { type: 'doc', content: [p(text)] } }, source).blocks;
    expect(after('Close the cold feed before you open the drain cock.')).toEqual([0]);
    expect(after('Close the cold feed. Then turn it by hand and listen for water.')).toEqual([]);
    expect(after('A bucket.')).toEqual([]);
  });
});
