import fc from 'fast-check';
import { betterTimes, dueOf, type OutletHours, type Timing } from '../index.js';

const towline: OutletHours = {
  outletId: 1,
  outlet: 'Towline',
  hours: [
    { hour: 12, count: 34 },
    { hour: 18, count: 9 },
  ],
};
const release = '2026-11-24T08:00:00';
const at = (timing: Timing, when: { release: string | null; now?: string } = { release }) =>
  betterTimes([{ id: 7, kind: 'short post', outletId: 1, timing }], [towline], {
    now: '2026-11-20T09:00:00',
    ...when,
  }).map((b) => b.timing);

describe('better times', () => {
  it.each<[string, Timing, Timing[]]>([
    ['a time of that day', { kind: 'same day', time: '08:15' }, [{ kind: 'same day', time: '12:00' }]],
    ['of the next', { kind: 'next day', time: '17:00' }, [{ kind: 'next day', time: '12:00' }]],
    [
      'of a weekday',
      { kind: 'weekday', weekday: 5, time: '07:00' },
      [{ kind: 'weekday', weekday: 5, time: '12:00' }],
    ],
    [
      'of a date',
      { kind: 'date', local: '2026-12-01T07:10:00' },
      [{ kind: 'date', local: '2026-12-01T12:00:00' }],
    ],
    ['one of the best hours already', { kind: 'next day', time: '18:20' }, []],
    ['what goes with the release', { kind: 'same hour', minutes: 0 }, []],
    ['a date that has passed', { kind: 'date', local: '2026-11-19T07:10:00' }, []],
  ])('%s', (_, timing, better) => {
    expect(at(timing)).toEqual(better);
  });

  it('say of which piece, and what it rests on', () => {
    const piece = {
      id: 7,
      kind: 'short post',
      outletId: 1,
      timing: { kind: 'next day', time: '17:00' } as const,
    };
    expect(betterTimes([piece], [towline], { release, now: release })[0]!.sentence).toBe(
      'Short post for Towline, next day at 17:00: seen most at 12:00 (34 pieces).',
    );
    expect(betterTimes([{ ...piece, outletId: 2 }], [towline], { release, now: release })).toEqual([]);
  });

  it('never lie before the release on its day: the next best hour is taken, or none', () => {
    expect(at({ kind: 'same day', time: '14:30' }, { release: '2026-11-24T14:00:00' })).toEqual([
      { kind: 'same day', time: '18:00' },
    ]);
    expect(at({ kind: 'same day', time: '20:30' }, { release: '2026-11-24T20:00:00' })).toEqual([]);
    expect(at({ kind: 'same day', time: '20:30' }, { release: null })).toEqual([
      { kind: 'same day', time: '12:00' },
    ]);
  });

  it('stay on the day, lie at one of the best hours, and are still to come', () => {
    const time = fc
      .tuple(fc.integer({ min: 0, max: 23 }), fc.integer({ min: 0, max: 59 }))
      .map(([h, m]) => `${String(h).padStart(2, '0')}:${String(m).padStart(2, '0')}`);
    const timing = fc.oneof(
      time.map((t): Timing => ({ kind: 'next day', time: t })),
      time.map((t): Timing => ({ kind: 'next week', time: t })),
      time.map((t): Timing => ({ kind: 'same day', time: t })),
      time.map((t): Timing => ({ kind: 'date', local: `2026-11-26T${t}:00` })),
    );
    fc.assert(
      fc.property(timing, time, time, (before, released, clock) => {
        const when = { release: `2026-11-24T${released}:00`, now: `2026-11-24T${clock}:00` };
        for (const after of at(before, when)) {
          const due = dueOf(after, when.release);
          expect([12, 18]).toContain(Number(due.slice(11, 13)));
          expect(due > when.now && due >= when.release).toBe(true);
          expect(after.kind).toBe(before.kind);
        }
      }),
    );
  });
});
