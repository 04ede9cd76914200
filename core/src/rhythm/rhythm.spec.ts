import { fc } from '../testing.js';
import { addDays } from '../time/zone.js';
import { rhythm, formatSteadiness, steadiness } from './rhythm.js';

const from = (start: string, gaps: readonly number[]) =>
  gaps.reduce<string[]>((dates, gap) => [...dates, addDays(dates.at(-1)!, gap)], [start]);

describe('steadiness', () => {
  // Goh & Barabási, EPL 81 (2008) 48002: B = -1 for a regular signal, B = 0 for a random (Poisson) one, B → 1
  // for a bursty one.
  it('is −1 when every gap is the same', () => {
    expect(steadiness(from('2026-01-01', [3, 3, 3, 3])).burstiness).toBe(-1);
  });
  it('is near 0 when posts fall at random', () => {
    // A geometric waiting time with p = 1/30, by inversion over an even ladder: σ/μ = √(1 − p).
    const gaps = Array.from({ length: 2000 }, (_, i) =>
      Math.ceil(Math.log(1 - (i + 0.5) / 2000) / Math.log(1 - 1 / 30)),
    );
    expect(Math.abs(steadiness(from('1990-01-01', gaps)).burstiness!)).toBeLessThan(0.02);
  });
  it('nears 1 when everything comes at once after a long wait', () => {
    expect(steadiness(from('2020-01-01', [...Array<number>(400).fill(0), 365])).burstiness!).toBeGreaterThan(
      0.9,
    );
  });
  it(
    'calls five themed weekdays and a couple a week steady, and a week’s posts on one ' +
      'day a burst (common practice, no published source)',
    () => {
      const weeks = Array.from({ length: 13 }, (_, i) => i * 7);
      const each = (days: number[]) => weeks.flatMap((w) => days.map((d) => addDays('2026-01-05', w + d)));
      expect(steadiness(each([0, 1, 2, 3, 4])).evenness).toBe('steady');
      expect(steadiness(each([1, 4])).evenness).toBe('steady');
      expect(steadiness(each([0, 0, 0, 0, 0]))).toMatchObject({
        evenness: 'in bursts',
        crowdedDays: 13,
        longestGap: 7,
      });
    },
  );
  it('does not judge a few posts', () => {
    expect(steadiness(['2026-01-01', '2026-01-05', '2026-01-09'])).toMatchObject({
      burstiness: null,
      evenness: null,
    });
    expect(formatSteadiness(steadiness([]))).toBe('Too few posts to say.');
  });
  it('lies between −1 and 1 and does not mind the order (property)', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 40 }), { minLength: 4, maxLength: 60 }), (gaps) => {
        const dates = from('2026-01-01', gaps);
        const { burstiness } = steadiness(dates);
        expect(burstiness!).toBeGreaterThanOrEqual(-1);
        expect(burstiness!).toBeLessThanOrEqual(1);
        expect(steadiness([...dates].reverse()).burstiness).toBe(burstiness);
      }),
    );
  });
});

describe('rhythm', () => {
  it('lays 13 weeks back and 13 ahead, with what went out, what is to come and what was wanted', () => {
    const at = (date: string, stage: 'published' | 'scheduled' | 'drafting' | 'withdrawn') => ({
      runLocal: `${date}T08:00:00`,
      stage,
    });
    const slots = [
      { slotId: 1, date: '2026-11-24', time: '08:00', categoryId: 1, format: '', movedFrom: null },
    ];
    const { weeks } = rhythm({
      posts: [
        at('2026-11-23', 'published'),
        at('2026-11-27', 'scheduled'),
        at('2026-12-01', 'drafting'),
        at('2026-12-02', 'withdrawn'),
        at('2025-01-01', 'published'),
      ],
      slots,
      today: '2026-11-25',
    });
    expect(weeks).toHaveLength(26);
    expect(weeks[0]).toMatchObject({ start: '2026-08-24', week: 35 });
    expect(weeks[13]).toEqual({
      start: '2026-11-23',
      week: 48,
      released: 1,
      ready: 1,
      underWay: 0,
      wanted: 1,
    });
    expect(weeks[14]).toMatchObject({ underWay: 1, released: 0, wanted: 0 });
    // Where the editor said how many are wanted, it is that, whatever the slots.
    const said = rhythm({ posts: [], slots, today: '2026-11-25', wanted: 2 }).weeks;
    expect(new Set(said.map((w) => w.wanted))).toEqual(new Set([2]));
    expect(weeks.reduce((n, w) => n + w.released, 0)).toBe(1);
  });
});
