import { DateTime, Duration } from 'luxon';
import {
  dueAt,
  formatDelay,
  lastVisitDue,
  orderWarnings,
  readersOfParts,
  takenAway,
  takenByZone,
  takenSentence,
  timelineOf,
  withheldParts,
  type Delay,
  type SerialPart,
} from './index.js';

const after = (days: number, hours = 0, minutes = 0): Delay => ({ days, hours, minutes });
const ZONES = ['Europe/London', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kolkata', 'Pacific/Apia'];

/** The same by luxon, which adds days by the calendar and hours by the clock (luxon, “Math” in its manual). */
const byLuxon = (first: string, delay: Delay, zone: string): number =>
  DateTime.fromISO(first, { zone })
    .plus(Duration.fromObject({ days: delay.days }))
    .plus(Duration.fromObject({ hours: delay.hours, minutes: delay.minutes }))
    .toMillis();

describe('when a part is due', () => {
  it.each([
    // Clocks go forward in London on 29 March 2026 at 01:00: the day has 23 hours.
    ['2026-03-28T18:00:00Z', after(1), 'Europe/London', '2026-03-29T17:00:00Z'],
    ['2026-03-28T18:00:00Z', after(0, 24), 'Europe/London', '2026-03-29T18:00:00Z'],
    // They go back on 25 October 2026: the day has 25.
    ['2026-10-24T17:00:00Z', after(1), 'Europe/London', '2026-10-25T18:00:00Z'],
    // 30 hours of the clock over the change.
    ['2026-10-24T17:00:00Z', after(0, 30), 'Europe/London', '2026-10-25T23:00:00Z'],
    ['2026-10-24T17:00:00Z', after(1, 6, 30), 'Europe/London', '2026-10-26T00:30:00Z'],
  ])('%s and %o in %s is %s', (first, delay, zone, at) => {
    expect(dueAt(first, delay, zone)).toBe(at);
  });

  it('agrees with luxon around every change of clocks of two years, in five zones', () => {
    let compared = 0;
    for (const zone of ZONES)
      for (let day = 0; day < 730; day += 3)
        for (const delay of [after(0, 0, 7), after(0, 26, 15), after(1), after(3, 5), after(30, 0, 1)]) {
          const first = new Date(Date.UTC(2025, 0, 1, (day * 7) % 24, (day * 11) % 60) + day * 86_400_000);
          const iso = first.toISOString();
          expect([iso, zone, Date.parse(dueAt(iso, delay, zone))]).toEqual([
            iso,
            zone,
            byLuxon(iso, delay, zone),
          ]);
          compared++;
        }
    expect(compared).toBe(5 * 244 * 5);
  });

  it('knows the last minute of a first visit for which a part is due', () => {
    for (const zone of ZONES)
      for (let day = 0; day < 400; day += 7) {
        const now = new Date(Date.UTC(2026, 0, 1, (day * 5) % 24, 30, 12) + day * 86_400_000).toISOString();
        for (const delay of [after(0, 0, 1), after(0, 25), after(2), after(40, 3, 10)]) {
          const last = lastVisitDue(now, delay, zone);
          const next = new Date(Date.parse(last) + 60_000).toISOString();
          expect(Date.parse(dueAt(last, delay, zone))).toBeLessThanOrEqual(Date.parse(now));
          expect(Date.parse(dueAt(next, delay, zone))).toBeGreaterThan(Date.parse(now));
        }
      }
  });

  it('is said in words', () => {
    expect(formatDelay(after(0))).toBe('at the first visit');
    expect(formatDelay(after(1))).toBe('1 day after the first visit');
    expect(formatDelay(after(3, 6, 30))).toBe('3 days, 6 hours and 30 minutes after the first visit');
  });
});

const PARTS: SerialPart[] = [
  { postId: 1, delay: after(0) },
  { postId: 2, delay: after(1) },
  { postId: 3, delay: after(3) },
];
const NOW = '2026-06-10T12:00:00Z';

describe('what a reader of a serial has', () => {
  it('grows with the time since their first visit', () => {
    expect(withheldParts(PARTS, null, 'UTC', NOW)).toEqual([2, 3]);
    expect(withheldParts(PARTS, '2026-06-10T11:59:00Z', 'UTC', NOW)).toEqual([2, 3]);
    expect(withheldParts(PARTS, '2026-06-09T12:01:00Z', 'UTC', NOW)).toEqual([2, 3]);
    expect(withheldParts(PARTS, '2026-06-09T12:00:00Z', 'UTC', NOW)).toEqual([3]);
    expect(withheldParts(PARTS, '2026-06-07T12:00:00Z', 'UTC', NOW)).toEqual([]);
    expect(timelineOf(PARTS, '2026-06-09T12:00:00Z', 'UTC', NOW).map((p) => [p.at, p.due])).toEqual([
      ['2026-06-09T12:00:00Z', true],
      ['2026-06-10T12:00:00Z', true],
      ['2026-06-12T12:00:00Z', false],
    ]);
  });

  it('never shrinks as time goes on, nor for who came earlier', () => {
    const hours = Array.from({ length: 200 }, (_, h) =>
      new Date(Date.parse(NOW) + h * 3_600_000).toISOString(),
    );
    for (const zone of ZONES) {
      let last = Infinity;
      for (const hour of hours) {
        const withheld = withheldParts(PARTS, NOW, zone, hour).length;
        expect(withheld).toBeLessThanOrEqual(last);
        last = withheld;
      }
      expect(last).toBe(0);
    }
  });

  it('is said to be odd where a later part comes first', () => {
    const named = PARTS.map((p) => ({ ...p, title: `Part ${p.postId}` }));
    expect(orderWarnings(named)).toEqual([]);
    expect(orderWarnings([named[0]!, named[2]!, named[1]!])).toEqual([
      '“Part 2” comes to readers before “Part 3”, which stands before it.',
    ]);
  });
});

/** First visits by hours ago, counted as the table is. */
const visits =
  (...hoursAgo: number[]) =>
  (at: string) =>
    hoursAgo.filter((h) => Date.parse(NOW) - h * 3_600_000 <= Date.parse(at)).length;

describe('how many readers are where', () => {
  it('counts by when they came', () => {
    const until = visits(1, 2, 30, 40, 50, 80, 200);
    expect(readersOfParts(PARTS, 'UTC', NOW, until)).toEqual([
      { postId: 1, have: 7, newest: 2 },
      { postId: 2, have: 5, newest: 3 },
      { postId: 3, have: 2, newest: 2 },
    ]);
  });

  it('counts each reader once, whatever the order of the parts', () => {
    const until = visits(1, 25, 26, 73, 90);
    for (const parts of [PARTS, [...PARTS].reverse(), [...PARTS, { postId: 4, delay: after(1) }]])
      expect(readersOfParts(parts, 'UTC', NOW, until).reduce((sum, p) => sum + p.newest, 0)).toBe(5);
  });
});

describe('what a change would take away', () => {
  const until = visits(1, 30, 40, 50, 100);
  const changed = (postId: number, delay: Delay) =>
    PARTS.map((p) => (p.postId === postId ? { postId, delay } : p));
  const taken = (after: SerialPart[], isOut = () => true) =>
    takenAway(PARTS, after, isOut, 'UTC', NOW, until);

  it('is nothing where parts come as early or earlier', () => {
    expect(taken(PARTS)).toEqual([]);
    expect(taken(changed(3, after(1)))).toEqual([]);
    expect(taken(changed(2, after(0)))).toEqual([]);
  });
  it('is a part from those who have it and would not', () => {
    // Three came between one and two and a half days ago.
    expect(taken(changed(2, after(3)))).toEqual([{ postId: 2, readers: 3, fromEverybody: false }]);
  });
  it('is a post from everybody that was no part before, or came at once', () => {
    expect(taken(changed(1, after(2)))).toEqual([{ postId: 1, readers: 3, fromEverybody: true }]);
    expect(taken([...PARTS, { postId: 9, delay: after(0, 1) }])).toEqual([
      { postId: 9, readers: 0, fromEverybody: true },
    ]);
  });
  it('is nothing of a post that is not out', () => {
    expect(taken(changed(2, after(9)), () => false)).toEqual([]);
  });
  it('is what another zone has due later', () => {
    // Came at 23:30 in London on the night the clocks went forward; by luxon a day is 23 hours there and 24 in UTC.
    const first = '2026-03-28T23:30:00Z';
    const part = [{ postId: 2, delay: after(1) }];
    const now = '2026-03-29T22:45:00Z';
    expect(byLuxon(first, after(1), 'Europe/London')).toBeLessThan(Date.parse(now));
    expect(byLuxon(first, after(1), 'UTC')).toBeGreaterThan(Date.parse(now));
    const one = (at: string) => (Date.parse(at) >= Date.parse(first) ? 1 : 0);
    const moved = (before: string, to: string) =>
      takenByZone(part, () => true, { before, after: to }, now, one);
    expect(moved('Europe/London', 'UTC')).toEqual([{ postId: 2, readers: 1, fromEverybody: false }]);
    expect(moved('UTC', 'Europe/London')).toEqual([]);
    // Nobody who came yet has lost anything.
    expect(
      takenByZone(
        part,
        () => true,
        { before: 'Europe/London', after: 'UTC' },
        now,
        () => 0,
      ),
    ).toEqual([]);
  });
  it('is told in a sentence', () => {
    expect(takenSentence({ postId: 2, readers: 1, fromEverybody: false }, 'Ice')).toBe(
      '“Ice” would be taken from one reader who has it already, until it is due for them again.',
    );
    expect(takenSentence({ postId: 2, readers: 12, fromEverybody: true }, 'Ice')).toBe(
      '“Ice” is visible to everybody now; new readers would lose it, 12 readers who came lately among them.',
    );
  });
});
