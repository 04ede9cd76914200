import * as fc from 'fast-check';
import { Corpus as OtherCorpus, Similarity } from 'tiny-tfidf';
import { cosine, termsOf, topTerms, weightsOf, type Corpus, type TermCounts } from '../index.js';

const corpusOf = (posts: readonly TermCounts[]): Corpus => ({
  posts: posts.length,
  postsWith: (term) => posts.filter((p) => p.has(term)).length,
  meanLength: posts.reduce((sum, p) => sum + [...p.values()].reduce((s, n) => s + n, 0), 0) / posts.length,
});

describe('how alike posts are', () => {
  // Words of letters alone, since implementations differ in what else they take for a word.
  const word = fc.constantFrom(...'lock gate boat hull rope tiller weir sluice pound winch'.split(' '));
  const texts = fc.array(fc.array(word, { minLength: 3, maxLength: 40 }), { minLength: 3, maxLength: 8 });

  it('is what tiny-tfidf reckons, an implementation of its own of the same published weights', () => {
    fc.assert(
      fc.property(texts, (posts) => {
        const counts = posts.map((words) => {
          const terms = new Map<string, number>();
          for (const w of words) terms.set(w, (terms.get(w) ?? 0) + 1);
          return terms;
        });
        const corpus = corpusOf(counts);
        const weights = counts.map((c) => weightsOf(c, corpus));
        const names = posts.map((_, i) => `post ${i}`);
        const other = new Similarity(
          new OtherCorpus(
            names,
            posts.map((p) => p.join(' ')),
            false,
            [],
          ),
        );
        const theirs = other.getDistanceMatrix() as { identifiers: string[]; matrix: number[][] };
        posts.forEach((_, i) =>
          posts.forEach((__, j) => {
            if (i === j || weights[i]!.size === 0 || weights[j]!.size === 0) return;
            expect(cosine(weights[i]!, weights[j]!)).toBeCloseTo(1 - theirs.matrix[i]![j]!, 6);
          }),
        );
      }),
      { numRuns: 60 },
    );
  });

  it('is 1 with itself, 0 with what shares nothing, and the same from both sides', () => {
    const a = new Map([
      ['lock', 2],
      ['gate', 1],
    ]);
    const b = new Map([
      ['lock', 1],
      ['boat', 3],
    ]);
    expect(cosine(a, a)).toBeCloseTo(1);
    expect(cosine(a, new Map([['eel', 9]]))).toBe(0);
    expect(cosine(a, new Map())).toBe(0);
    expect(cosine(a, b)).toBe(cosine(b, a));
  });

  it('counts stems of telling words, those that name the post thrice', () => {
    const terms = termsOf({ text: 'The locks were locked. 1797 of them!', names: ['Locking'] });
    expect(Object.fromEntries(terms)).toEqual({ lock: 5 });
    expect(termsOf({ text: '', names: [] }).size).toBe(0);
  });

  it('keeps of the heaviest terms products that add up to the cosine', () => {
    const counts = [
      termsOf({ text: 'A windlass lifts the paddle of a lock gate.', names: ['Windlass'] }),
      termsOf({ text: 'Grease the windlass before the paddle.', names: [] }),
      termsOf({ text: 'Eels climb the weir at night.', names: [] }),
    ];
    const corpus = corpusOf(counts);
    const [x, y, z] = counts.map((c) => weightsOf(c, corpus)) as [
      Map<string, number>,
      Map<string, number>,
      Map<string, number>,
    ];
    const product = (a: Map<string, number>, b: Map<string, number>) => {
      const other = new Map(topTerms(b, 60));
      return topTerms(a, 60).reduce((sum, [term, w]) => sum + w * (other.get(term) ?? 0), 0);
    };
    expect(product(x, y)).toBeCloseTo(cosine(x, y), 10);
    expect(cosine(x, y)).toBeGreaterThan(cosine(x, z));
    expect(topTerms(x, 2)).toHaveLength(2);
  });
});
