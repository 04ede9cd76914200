import fc from 'fast-check';
import {
  clashes,
  dueOf,
  evergreens,
  isQuiet,
  laterBy,
  rotation,
  formatTiming,
  spreadOut,
  type Due,
  type OldPost,
  type PacedOutlet,
  type Timing,
} from '../index.js';

const towline: PacedOutlet = {
  id: 1,
  name: 'Towline',
  limits: { perHour: 2, perDay: 4, quiet: { from: '22:00', until: '07:00' } },
};
const free: PacedOutlet = { id: 2, name: 'Chandlery', limits: { perHour: null, perDay: null, quiet: null } };

describe('timings', () => {
  it('follow the release', () => {
    // Same day, next day, next week, next month: common practice, no published source. 24 November 2026 is a
    // Tuesday.
    const release = '2026-11-24T08:00:00';
    const due = (t: Timing) => dueOf(t, release);
    expect(due({ kind: 'same hour', minutes: 30 })).toBe('2026-11-24T08:30:00');
    expect(due({ kind: 'same day', time: '12:30' })).toBe('2026-11-24T12:30:00');
    expect(due({ kind: 'same day', time: '07:00' })).toBe('2026-11-25T07:00:00');
    expect(due({ kind: 'next day', time: '17:00' })).toBe('2026-11-25T17:00:00');
    expect(due({ kind: 'weekday', weekday: 5, time: '07:00' })).toBe('2026-11-27T07:00:00');
    expect(due({ kind: 'weekday', weekday: 2, time: '07:00' })).toBe('2026-12-01T07:00:00');
    // At the very minute of the release: today is still the same day, and that Tuesday is the next one.
    expect(due({ kind: 'same day', time: '08:00' })).toBe('2026-11-24T08:00:00');
    expect(due({ kind: 'weekday', weekday: 2, time: '08:00' })).toBe('2026-12-01T08:00:00');
    expect(due({ kind: 'next week', time: '12:30' })).toBe('2026-12-01T12:30:00');
    expect(due({ kind: 'next month', time: '09:00' })).toBe('2026-12-24T09:00:00');
    expect(dueOf({ kind: 'next month', time: '09:00' }, '2027-01-31T08:00:00')).toBe('2027-02-28T09:00:00');
    expect(due({ kind: 'date', local: '2027-01-05T10:00:00' })).toBe('2027-01-05T10:00:00');
    expect(formatTiming({ kind: 'weekday', weekday: 5, time: '07:00' })).toBe('that Friday at 07:00');
  });

  it('never lie before the release, and move with it', () => {
    const time = fc
      .tuple(fc.integer({ min: 0, max: 23 }), fc.integer({ min: 0, max: 59 }))
      .map(([h, m]) => `${String(h).padStart(2, '0')}:${String(m).padStart(2, '0')}`);
    const timing: fc.Arbitrary<Timing> = fc.oneof(
      fc.record({ kind: fc.constant('same hour' as const), minutes: fc.integer({ min: 0, max: 59 }) }),
      fc.record({
        kind: fc.constantFrom(
          'same day' as const,
          'next day' as const,
          'next week' as const,
          'next month' as const,
        ),
        time,
      }),
      fc.record({ kind: fc.constant('weekday' as const), weekday: fc.integer({ min: 1, max: 7 }), time }),
    );
    fc.assert(
      fc.property(timing, fc.integer({ min: 0, max: 600_000 }), (t, minutes) => {
        const release = laterBy('2026-01-01T00:00:00', minutes);
        expect(dueOf(t, release) >= release).toBe(true);
        expect(dueOf(t, laterBy(release, 7 * 24 * 60)) > dueOf(t, release)).toBe(true);
      }),
    );
  });
});

describe('clashes', () => {
  it('are found in an hour, a day and the quiet hours', () => {
    const due: Due[] = [
      { id: 1, outletId: 1, local: '2026-11-24T12:00:00', sent: true },
      { id: 2, outletId: 1, local: '2026-11-24T12:20:00' },
      { id: 3, outletId: 1, local: '2026-11-24T12:40:00' },
      { id: 4, outletId: 1, local: '2026-11-24T23:10:00' },
      { id: 5, outletId: 2, local: '2026-11-24T12:20:00' },
    ];
    expect(clashes(due, [towline, free]).map((c) => [c.pieceId, c.what])).toEqual([
      [3, 'hour'],
      [4, 'quiet'],
    ]);
    expect(clashes(due, [towline])[0]!.sentence).toBe(
      'Towline takes 2 in an hour, and has as many at Tue 24 Nov 12:40.',
    );
    expect([
      isQuiet('2026-11-24T07:00:00', towline.limits.quiet),
      isQuiet('2026-11-24T06:59:00', towline.limits.quiet),
      isQuiet('2026-11-24T13:00:00', { from: '12:00', until: '14:00' }),
    ]).toEqual([false, true, true]);
  });

  it('are spread without crowding what is another post’s', () => {
    const others: Due[] = [
      { id: 8, outletId: 1, local: '2026-11-24T12:30:00', fixed: true },
      { id: 9, outletId: 1, local: '2026-11-24T12:30:00', fixed: true },
    ];
    const moved = spreadOut([{ id: 1, outletId: 1, local: '2026-11-24T12:00:00' }, ...others], [towline]);
    expect([...moved]).toEqual([[1, '2026-11-24T13:30:00']]);
    expect(clashes([{ id: 1, outletId: 1, local: moved.get(1)! }, ...others], [towline])).toEqual([]);
  });

  it('are spread so that none is left, and nothing moves that was well', () => {
    const dues = fc
      .array(
        fc.record({
          outletId: fc.constantFrom(1, 2),
          minutes: fc.integer({ min: 0, max: 4000 }),
          sent: fc.boolean(),
        }),
        { maxLength: 25 },
      )
      .map((list) =>
        list.map((d, i): Due => ({
          id: i + 1,
          outletId: d.outletId,
          local: laterBy('2026-11-24T08:00:00', d.minutes),
          sent: d.sent && d.minutes < 300,
        })),
      );
    fc.assert(
      fc.property(dues, (due) => {
        const moved = spreadOut(due, [towline, free]);
        const after = due.map((d) => ({ ...d, local: moved.get(d.id) ?? d.local }));
        expect(clashes(after, [towline, free])).toEqual([]);
        for (const d of due) expect((moved.get(d.id) ?? d.local) >= d.local).toBe(true);
        if (clashes(due, [towline, free]).length === 0) expect(moved.size).toBe(0);
      }),
      { numRuns: 600 },
    );
  });
});

describe('evergreens', () => {
  const post = (id: number, more: Partial<OldPost> = {}): OldPost => ({
    id,
    title: `Post ${id}`,
    categoryId: 1,
    released: '2025-11-01',
    reads: 100,
    passedOn: null,
    ...more,
  });
  it('did well, are rested, and change category', () => {
    const posts = [
      post(1, { reads: 900 }),
      post(2, { reads: 800 }),
      post(3, { reads: 700, categoryId: 2 }),
      post(4, { reads: 950, passedOn: '2026-11-10' }),
      post(5, { reads: 990, released: '2026-11-20' }),
      post(6),
      post(7, { reads: 90 }),
      post(8, { reads: 80 }),
      post(9, { reads: 85 }),
      post(10),
      post(11),
    ];
    const chosen = evergreens(posts, { today: '2026-11-25', restDays: 60, max: 5 });
    expect(chosen.map((c) => c.id)).toEqual([1, 3, 2]);
    expect(chosen[0]!.why).toBe('900 reads, a day 9.0 times those of the middle post; never passed on.');
    expect(evergreens([], { today: '2026-11-25', restDays: 60, max: 5 })).toEqual([]);
  });

  it('rotate over the outlets within their pace', () => {
    const plan = rotation([{ id: 1 }, { id: 2 }, { id: 3 }], [towline, free], {
      from: '2026-11-26',
      time: '23:00',
      everyDays: 2,
      taken: [],
    });
    expect(plan).toEqual([
      { postId: 1, outletId: 1, local: '2026-11-27T07:00:00' },
      { postId: 2, outletId: 2, local: '2026-11-28T23:00:00' },
      { postId: 3, outletId: 1, local: '2026-12-01T07:00:00' },
    ]);
    const always = { ...towline, limits: { ...towline.limits, quiet: { from: '00:01', until: '00:00' } } };
    expect(
      rotation([{ id: 1 }, { id: 2 }], [always, free], {
        from: '2026-11-26',
        time: '12:03',
        everyDays: 1,
        taken: [],
      }),
    ).toEqual([{ postId: 2, outletId: free.id, local: '2026-11-27T12:03:00' }]);
    expect(rotation([{ id: 1 }], [], { from: '2026-11-26', time: '12:00', everyDays: 1, taken: [] })).toEqual(
      [],
    );
  });
});
