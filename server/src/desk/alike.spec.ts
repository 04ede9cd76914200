import { TOO_ALIKE, jaccard, shingles, signature } from '@keyroster/core';
import { Newsroom } from '../testing/newsroom.js';

const PAIRS = 2000;
/** Runs of four words in each text, and those that both have: their Jaccard index is 100 / 300. */
const RUNS = 200;
const SHARED = 100;

const words = (name: string, n: number) => Array.from({ length: n }, (_, i) => `${name}${i}`);
const signed = (text: string) => [...new Int32Array(signature(shingles(text)))];

/** Texts that share a run of words of a given length, different with every pair. */
function pair(n: number, shared: number): [string, string] {
  const own = (who: string) => words(`${who}p${n}x`, RUNS - shared);
  const common = shared === 0 ? [] : words(`bothp${n}x`, shared + 3);
  const fill = 3 - Math.min(3, common.length);
  return [
    [...common, ...own('a'), ...words('enda', fill)].join(' '),
    [...common, ...own('b'), ...words('endb', fill)].join(' '),
  ];
}

describe('which texts are compared', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make({ people: false });
  });
  afterAll(() => room.close());

  const meeting = async (shared: number): Promise<number> => {
    const pairs = Array.from({ length: PAIRS }, (_, n) => pair(n, shared).map(signed));
    const { rows } = await room.db.raw<{ rows: { met: number }[] }>(
      `
        with pairs as materialized (
          select
            array(select v::int from jsonb_array_elements_text(pair -> 0) v) as a,
            array(select v::int from jsonb_array_elements_text(pair -> 1) v) as b
          from jsonb_array_elements(?::jsonb) as p(pair)
        )
        select count(*)::int as met from pairs where signature_bands(a) && signature_bands(b)
      `,
      [JSON.stringify(pairs)],
    );
    return rows[0]!.met;
  };

  it('are at least 99 in 100 of those that share what the checks warn of', async () => {
    const [a, b] = pair(7, SHARED).map((text) => shingles(text)) as [Set<number>, Set<number>];
    expect([a.size, b.size]).toEqual([RUNS, RUNS]);
    expect(jaccard(a, b)).toBeCloseTo(1 / 3, 10);
    expect(jaccard(a, b) - TOO_ALIKE).toBeLessThan(0.004);
    expect((await meeting(SHARED)) / PAIRS).toBeGreaterThanOrEqual(0.99);
  });

  it('are none of those that share nothing', async () => {
    expect(await meeting(0)).toBe(0);
  });
});
