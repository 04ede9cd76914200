import { fc } from '../testing.js';
import { addDays, daysBetween } from '../time/zone.js';
import { weekday } from '../time/week.js';
import { fillSlots, slotEffects, type DatedPost } from './filling.js';
import { nextDates, rruleOf, formatSlot, slotDates, slotError, type StandingSlot } from './slots.js';

const slot = (over: Partial<StandingSlot> = {}): StandingSlot => ({
  id: 1,
  weekday: 2,
  time: '08:00',
  categoryId: 1,
  format: '',
  from: null,
  until: null,
  everyWeeks: 1,
  exceptions: [],
  ...over,
});
const dates = (s: StandingSlot, from: string, to: string) => slotDates([s], from, to).map((d) => d.date);

describe('standing slots', () => {
  it('are rules of RFC 5545', () => {
    expect(rruleOf(slot())).toBe('FREQ=WEEKLY;BYDAY=TU');
    expect(rruleOf(slot({ everyWeeks: 3, from: '2026-12-01', until: '2027-03-01' }))).toBe(
      'FREQ=WEEKLY;INTERVAL=3;BYDAY=TU;UNTIL=20270301T235959',
    );
  });
  it('count every n weeks from their first date, whatever span is asked', () => {
    const every2 = slot({ everyWeeks: 2, from: '2026-11-20' }); // a Friday: the first Tuesday is the 24th
    expect(dates(every2, '2026-11-01', '2026-12-31')).toEqual(['2026-11-24', '2026-12-08', '2026-12-22']);
    expect(dates(every2, '2026-12-01', '2026-12-20')).toEqual(['2026-12-08']);
    expect(dates(every2, '2036-01-01', '2036-01-20')).toEqual(['2036-01-08']);
  });
  it('leave out what is skipped and show what is moved where it is, with its own time', () => {
    const s = slot({
      exceptions: [
        { date: '2026-12-08', movedTo: null, movedTime: null },
        { date: '2026-12-15', movedTo: '2026-12-17', movedTime: '12:00' },
        { date: '2026-12-29', movedTo: '2027-01-02', movedTime: null },
      ],
    });
    expect(slotDates([s], '2026-12-01', '2026-12-31').map((d) => [d.date, d.time, d.movedFrom])).toEqual([
      ['2026-12-01', '08:00', null],
      ['2026-12-17', '12:00', '2026-12-15'],
      ['2026-12-22', '08:00', null],
    ]);
    // Moved into a span that does not hold the date it comes from.
    expect(slotDates([s], '2027-01-01', '2027-01-03').map((d) => [d.date, d.movedFrom])).toEqual([
      ['2027-01-02', '2026-12-29'],
    ]);
    // An exception that is no date of the rule any more opens nothing.
    expect(dates({ ...s, weekday: 3 }, '2026-12-14', '2026-12-20')).toEqual(['2026-12-16']);
  });
  it('tell the coming dates, and mark what is not as the rule says', () => {
    const skipped = { date: '2026-12-08', movedTo: null, movedTime: null };
    expect(nextDates(slot({ exceptions: [skipped] }), '2026-12-02', 2)).toEqual([
      { date: '2026-12-08', exception: skipped },
      { date: '2026-12-15', exception: null },
    ]);
    expect(nextDates(slot({ until: '2026-12-10' }), '2026-12-02', 5).length).toBe(1);
    expect(nextDates(slot({ until: '2026-12-01' }), '2026-12-02', 5)).toEqual([]);
    expect(
      nextDates(slot({ everyWeeks: 8, from: '2026-01-06' }), '2026-12-02', 3).map((d) => d.date),
    ).toEqual(['2026-12-08', '2027-02-02', '2027-03-30']);
  });
  it.each([
    [{ from: '2026-12-10', until: '2026-12-01' }, 'The slot ends on Tue 1 Dec, before it begins.'],
    [{ everyWeeks: 2 }, 'Say from when, so that every 2 weeks can be counted.'],
    [
      { from: '2026-12-02', until: '2026-12-07' },
      'No Tuesday falls between Wed 2 Dec and Mon 7 Dec: the slot would have no date.',
    ],
    [
      {
        from: '2026-12-01',
        until: '2026-12-01',
        exceptions: [{ date: '2026-12-01', movedTo: null, movedTime: null }],
      },
      'Every date of the slot is skipped: it would have no date.',
    ],
    [
      { exceptions: [{ date: '2026-12-02', movedTo: null, movedTime: null }] },
      'Wed 2 Dec is not a date of this slot.',
    ],
    [
      { exceptions: [{ date: '2026-12-01', movedTo: '2027-03-01', movedTime: null }] },
      'Tue 1 Dec cannot be moved further than 60 days.',
    ],
    [{}, null],
  ] as const)('%j: %s', (over, error) => {
    expect(slotError(slot(over as Partial<StandingSlot>))).toBe(error);
  });
  it('are said in words', () => {
    expect(formatSlot(slot())).toBe('Tuesdays 08:00');
    expect(formatSlot(slot({ everyWeeks: 2, from: '2026-12-01', until: '2027-03-02' }), '2026-11-25')).toBe(
      'Every 2 weeks on Tuesday 08:00, from Tue 1 Dec until Tue 2 Mar 2027',
    );
  });
  it('fall on their weekday, in step, within their bounds; a span in two halves gives the same (property)', () => {
    const base = '2026-01-01';
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 7 }),
        fc.integer({ min: 1, max: 6 }),
        fc.integer({ min: 0, max: 400 }),
        fc.integer({ min: 0, max: 500 }),
        fc.integer({ min: 0, max: 200 }),
        fc.integer({ min: 0, max: 200 }),
        (day, everyWeeks, from, length, at, cut) => {
          const s = slot({
            weekday: day,
            everyWeeks,
            from: addDays(base, from),
            until: addDays(base, from + length),
          });
          const [a, m, b] = [addDays(base, at), addDays(base, at + cut), addDays(base, at + 2 * cut + 30)];
          const found = dates(s, a, b);
          for (const date of found) {
            expect(weekday(date)).toBe(day);
            expect(date >= s.from! && date <= s.until!).toBe(true);
            expect(Math.floor(daysBetween(s.from!, date) / 7) % everyWeeks).toBe(0);
          }
          expect([...dates(s, a, m), ...dates(s, addDays(m, 1), b)]).toEqual(found);
        },
      ),
    );
  });
});

describe('a change of slots', () => {
  const post = (id: number, date: string, categoryId: number): DatedPost => ({
    id,
    runLocal: `${date}T08:00:00`,
    categoryId,
  });
  it('says which posts lose their slot, which gain one, and how many are open', () => {
    const [a, b] = [post(1, '2026-12-01', 1), post(2, '2026-12-02', 1)];
    const span = ['2026-11-30', '2026-12-13'] as const;
    const result = slotEffects(slotDates([slot()], ...span), slotDates([slot({ weekday: 3 })], ...span), [
      a,
      b,
    ]);
    expect(result).toEqual({
      effects: [
        { post: a, what: 'loses' },
        { post: b, what: 'gains' },
      ],
      openBefore: 1,
      openAfter: 1,
    });
    expect(fillSlots(slotDates([slot()], ...span), [a, b]).extra).toEqual([b]);
  });
});
