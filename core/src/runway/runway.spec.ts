import { fc } from '../testing.js';
import { fillSlots } from '../slots/filling.js';
import { nextDates, slotDates, type StandingSlot } from '../slots/slots.js';
import { isLate, runway, formatRunway, type RunwayPost } from './runway.js';

// Five posts a week, a category a day, 08:00: common practice, no published source.
const slots: StandingSlot[] = [1, 2, 3, 4, 5].map((weekday) => ({
  id: weekday,
  weekday,
  time: '08:00',
  categoryId: weekday,
  format: '',
  from: null,
  until: null,
  everyWeeks: 1,
  exceptions: [],
}));
let nextId = 1;
const post = (date: string, categoryId: number, over: Partial<RunwayPost> = {}): RunwayPost => ({
  id: nextId++,
  runLocal: `${date}T08:00:00`,
  categoryId,
  stage: 'scheduled',
  copyDate: null,
  ...over,
});

describe('slot dates', () => {
  it('opens five themed weekdays and leaves the weekend', () => {
    expect(slotDates(slots, '2026-11-23', '2026-11-29').map((s) => s.date)).toEqual([
      '2026-11-23',
      '2026-11-24',
      '2026-11-25',
      '2026-11-26',
      '2026-11-27',
    ]);
  });
  it('keeps from and until', () => {
    const bounded = [{ ...slots[1]!, from: '2026-12-02', until: '2026-12-15' }];
    expect(slotDates(bounded, '2026-11-20', '2026-12-31').map((s) => s.date)).toEqual([
      '2026-12-08',
      '2026-12-15',
    ]);
    expect(nextDates(bounded[0]!, '2026-11-20', 1)[0]?.date).toBe('2026-12-08');
    expect(nextDates(bounded[0]!, '2026-12-16', 1)).toEqual([]);
  });
  it('gives a slot its own category first, then whoever stands at its time', () => {
    const dates = slotDates(
      [slots[0]!, { ...slots[0]!, id: 9, time: '12:00', categoryId: 2 }],
      '2026-11-23',
      '2026-11-23',
    );
    const own = post('2026-11-23', 1, { runLocal: '2026-11-23T09:15:00' });
    const guest = post('2026-11-23', 5, { runLocal: '2026-11-23T12:00:00' });
    const third = post('2026-11-23', 5, { runLocal: '2026-11-23T18:00:00' });
    const filling = fillSlots(dates, [third, guest, own]);
    expect(filling.slots.map((f) => f.post)).toEqual([own, guest]);
    expect(filling.extra).toEqual([third]);
  });
  it('never uses a post twice nor loses one (property)', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            day: fc.integer({ min: 23, max: 29 }),
            cat: fc.integer({ min: 1, max: 5 }),
            hour: fc.constantFrom('08', '12'),
          }),
          { maxLength: 20 },
        ),
        (raw) => {
          const posts = raw.map((r) =>
            post(`2026-11-${r.day}`, r.cat, { runLocal: `2026-11-${r.day}T${r.hour}:00:00` }),
          );
          const filling = fillSlots(slotDates(slots, '2026-11-23', '2026-11-29'), posts);
          const seen = [
            ...filling.slots.flatMap((f) => (f.post ? [f.post.id] : [])),
            ...filling.extra.map((p) => p.id),
          ];
          expect(seen.sort()).toEqual(posts.map((p) => p.id).sort());
        },
      ),
    );
  });
});

describe('runway', () => {
  const nowLocal = '2026-11-25T09:00:00';
  it('is covered to the last ready day before the first hole', () => {
    const r = runway({
      nowLocal,
      slots,
      posts: [
        post('2026-11-25', 3, { stage: 'published' }),
        post('2026-11-26', 4),
        post('2026-11-27', 5, { stage: 'cleared' }),
        post('2026-12-01', 2),
        post('2026-12-02', 3, { stage: 'drafting' }),
      ],
    });
    expect(r.coveredTo).toBe('2026-11-27');
    expect(r.days).toHaveLength(21);
    expect(r.days.slice(0, 8).map((d) => d.state)).toEqual([
      'ready',
      'ready',
      'ready',
      'none',
      'none',
      'open',
      'ready',
      'under way',
    ]);
    expect(formatRunway(r).headline).toBe('Covered to Fri 27 Nov');
    expect(formatRunway(r).detail).toBe('4 days ready · 10 open slots · none late');
  });
  it('reaches a week ahead when a week is prepared (common practice, no published source)', () => {
    const week = ['2026-11-25', '2026-11-26', '2026-11-27', '2026-11-30', '2026-12-01', '2026-12-02'].map(
      (d, i) => post(d, [3, 4, 5, 1, 2, 3][i]!),
    );
    expect(runway({ nowLocal, slots, posts: week }).coveredTo).toBe('2026-12-02');
  });
  it('does not hold a slot of today against us once its hour has passed', () => {
    const r = runway({ nowLocal, slots, posts: [post('2026-11-26', 4)] });
    expect(r.days[0]).toMatchObject({ state: 'none', open: [] });
    expect(r.coveredTo).toBe('2026-11-26');
    expect(runway({ nowLocal: '2026-11-25T07:00:00', slots, posts: [] })).toMatchObject({ coveredTo: null });
  });
  it('marks a day late when its post is', () => {
    const r = runway({
      nowLocal,
      slots,
      posts: [post('2026-12-03', 4, { stage: 'drafting', copyDate: '2026-11-20' })],
    });
    expect(r.days.find((d) => d.date === '2026-12-03')?.state).toBe('late');
    expect(r.late).toBe(1);
  });
});

describe('late', () => {
  const now = '2026-11-25T09:00:00';
  it.each([
    ['drafting', '2026-11-24', null, true],
    ['drafting', '2026-11-25', null, false],
    ['in review', '2026-11-24', null, false],
    ['in review', null, '2026-11-25T08:00:00', true],
    ['commissioned', null, '2026-11-25T10:00:00', false],
    ['published', '2026-11-01', '2026-11-02T08:00:00', false],
    ['pitch', '2026-11-01', null, false],
    // It goes out by itself, late or not; nobody is waited for.
    ['scheduled', '2026-11-01', '2026-11-25T08:00:00', false],
    ['cleared', null, '2026-11-25T08:00:00', true],
  ] as const)('%s, copy %s, runs %s: %s', (stage, copyDate, runLocal, late) => {
    expect(isLate({ stage, copyDate, runLocal }, now)).toBe(late);
  });
});
