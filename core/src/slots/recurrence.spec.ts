import { DateTime } from 'luxon';
import { fc } from '../testing.js';
import { meaningOf } from '../time/zone.js';
import { occurrences } from './recurrence.js';

/** `September 2,9,16`-like lists as the standard prints them: month by month, in one line. */
const days = (text: string, clock = 'T09:00:00') =>
  text
    .trim()
    .split(/\s*;\s*/)
    .flatMap((part) => {
      const [month, list = ''] = part.split(' ');
      return list.split(',').map((day) => `${month!}-${day.padStart(2, '0')}${clock}`);
    });

// RFC 5545, section 3.8.5.3, the examples of "Recurrence Rule", all but those whose text gives no list.
const SEPT = '1997-09-02T09:00:00';
const EXAMPLES: [what: string, start: string, rule: string, expected: string[], whole?: boolean][] = [
  ['daily for 10 occurrences', SEPT, 'FREQ=DAILY;COUNT=10', days('1997-09 2,3,4,5,6,7,8,9,10,11'), true],
  [
    'every other day',
    SEPT,
    'FREQ=DAILY;INTERVAL=2',
    days('1997-09 2,4,6,8,10,12,14,16,18,20,22,24,26,28,30;1997-10 2,4,6'),
  ],
  [
    'every 10 days, 5 occurrences',
    SEPT,
    'FREQ=DAILY;INTERVAL=10;COUNT=5',
    days('1997-09 2,12,22;1997-10 2,12'),
    true,
  ],
  [
    'weekly for 10 occurrences',
    SEPT,
    'FREQ=WEEKLY;COUNT=10',
    days('1997-09 2,9,16,23,30;1997-10 7,14,21,28;1997-11 4'),
    true,
  ],
  [
    'weekly until December 24, 1997',
    SEPT,
    'FREQ=WEEKLY;UNTIL=19971224T000000',
    days('1997-09 2,9,16,23,30;1997-10 7,14,21,28;1997-11 4,11,18,25;1997-12 2,9,16,23'),
    true,
  ],
  [
    'every other week - forever',
    SEPT,
    'FREQ=WEEKLY;INTERVAL=2;WKST=SU',
    days('1997-09 2,16,30;1997-10 14,28;1997-11 11,25;1997-12 9,23;1998-01 6,20;1998-02 3,17'),
  ],
  [
    'weekly on Tuesday and Thursday for five weeks',
    SEPT,
    'FREQ=WEEKLY;COUNT=10;WKST=SU;BYDAY=TU,TH',
    days('1997-09 2,4,9,11,16,18,23,25,30;1997-10 2'),
    true,
  ],
  [
    'every other week on Monday, Wednesday, and Friday until December 24, 1997',
    '1997-09-01T09:00:00',
    'FREQ=WEEKLY;INTERVAL=2;UNTIL=19971224T000000;WKST=SU;BYDAY=MO,WE,FR',
    days(
      '1997-09 1,3,5,15,17,19,29;1997-10 1,3,13,15,17,27,29,31;1997-11 10,12,14,24,26,28;1997-12 8,10,12,22',
    ),
    true,
  ],
  [
    'every other week on Tuesday and Thursday, for 8 occurrences',
    SEPT,
    'FREQ=WEEKLY;INTERVAL=2;COUNT=8;WKST=SU;BYDAY=TU,TH',
    days('1997-09 2,4,16,18,30;1997-10 2,14,16'),
    true,
  ],
  [
    'monthly on the first Friday for 10 occurrences',
    '1997-09-05T09:00:00',
    'FREQ=MONTHLY;COUNT=10;BYDAY=1FR',
    days(
      '1997-09 5;1997-10 3;1997-11 7;1997-12 5;1998-01 2;1998-02 6;1998-03 6;1998-04 3;1998-05 1;1998-06 5',
    ),
    true,
  ],
  [
    'every other month on the first and last Sunday of the month for 10 occurrences',
    '1997-09-07T09:00:00',
    'FREQ=MONTHLY;INTERVAL=2;COUNT=10;BYDAY=1SU,-1SU',
    days('1997-09 7,28;1997-11 2,30;1998-01 4,25;1998-03 1,29;1998-05 3,31'),
    true,
  ],
  [
    'monthly on the second-to-last Monday of the month for 6 months',
    '1997-09-22T09:00:00',
    'FREQ=MONTHLY;COUNT=6;BYDAY=-2MO',
    days('1997-09 22;1997-10 20;1997-11 17;1997-12 22;1998-01 19;1998-02 16'),
    true,
  ],
  [
    'monthly on the third-to-the-last day of the month',
    '1997-09-28T09:00:00',
    'FREQ=MONTHLY;BYMONTHDAY=-3',
    days('1997-09 28;1997-10 29;1997-11 28;1997-12 29;1998-01 29;1998-02 26'),
  ],
  [
    'monthly on the 2nd and 15th of the month for 10 occurrences',
    SEPT,
    'FREQ=MONTHLY;COUNT=10;BYMONTHDAY=2,15',
    days('1997-09 2,15;1997-10 2,15;1997-11 2,15;1997-12 2,15;1998-01 2,15'),
    true,
  ],
  [
    'monthly on the first and last day of the month for 10 occurrences',
    '1997-09-30T09:00:00',
    'FREQ=MONTHLY;COUNT=10;BYMONTHDAY=1,-1',
    days('1997-09 30;1997-10 1,31;1997-11 1,30;1997-12 1,31;1998-01 1,31;1998-02 1'),
    true,
  ],
  [
    'every 18 months on the 10th thru 15th of the month for 10 occurrences',
    '1997-09-10T09:00:00',
    'FREQ=MONTHLY;INTERVAL=18;COUNT=10;BYMONTHDAY=10,11,12,13,14,15',
    days('1997-09 10,11,12,13,14,15;1999-03 10,11,12,13'),
    true,
  ],
  [
    'every Tuesday, every other month',
    SEPT,
    'FREQ=MONTHLY;INTERVAL=2;BYDAY=TU',
    days('1997-09 2,9,16,23,30;1997-11 4,11,18,25;1998-01 6,13,20,27;1998-03 3,10,17,24,31'),
  ],
  [
    'yearly in June and July for 10 occurrences',
    '1997-06-10T09:00:00',
    'FREQ=YEARLY;COUNT=10;BYMONTH=6,7',
    days(
      '1997-06 10;1997-07 10;1998-06 10;1998-07 10;1999-06 10;1999-07 10;2000-06 ' +
        '10;2000-07 10;2001-06 10;2001-07 10',
    ),
    true,
  ],
  [
    'every other year on January, February, and March for 10 occurrences',
    '1997-03-10T09:00:00',
    'FREQ=YEARLY;INTERVAL=2;COUNT=10;BYMONTH=1,2,3',
    days(
      '1997-03 10;1999-01 10;1999-02 10;1999-03 10;2001-01 10;2001-02 10;2001-03 ' +
        '10;2003-01 10;2003-02 10;2003-03 10',
    ),
    true,
  ],
  [
    'every third year on the 1st, 100th, and 200th day for 10 occurrences',
    '1997-01-01T09:00:00',
    'FREQ=YEARLY;INTERVAL=3;COUNT=10;BYYEARDAY=1,100,200',
    days(
      '1997-01 1;1997-04 10;1997-07 19;2000-01 1;2000-04 9;2000-07 18;2003-01 1;2003-04 10;2003-07 19;2006-01 1',
    ),
    true,
  ],
  [
    'every 20th Monday of the year',
    '1997-05-19T09:00:00',
    'FREQ=YEARLY;BYDAY=20MO',
    days('1997-05 19;1998-05 18;1999-05 17'),
  ],
  [
    'Monday of week number 20',
    '1997-05-12T09:00:00',
    'FREQ=YEARLY;BYWEEKNO=20;BYDAY=MO',
    days('1997-05 12;1998-05 11;1999-05 17'),
  ],
  [
    'every Thursday in March',
    '1997-03-13T09:00:00',
    'FREQ=YEARLY;BYMONTH=3;BYDAY=TH',
    days('1997-03 13,20,27;1998-03 5,12,19,26;1999-03 4,11,18,25'),
  ],
  [
    'every Thursday, but only during June, July, and August',
    '1997-06-05T09:00:00',
    'FREQ=YEARLY;BYDAY=TH;BYMONTH=6,7,8',
    days(
      '1997-06 5,12,19,26;1997-07 3,10,17,24,31;1997-08 7,14,21,28;1998-06 ' +
        '4,11,18,25;1998-07 2,9,16,23,30;1998-08 6,13,20,27',
    ),
  ],
  [
    'the first Saturday that follows the first Sunday of the month',
    '1997-09-13T09:00:00',
    'FREQ=MONTHLY;BYDAY=SA;BYMONTHDAY=7,8,9,10,11,12,13',
    days(
      '1997-09 13;1997-10 11;1997-11 8;1997-12 13;1998-01 10;1998-02 7;1998-03 7;1998-04 11;1998-05 9;1998-06 13',
    ),
  ],
  [
    'U.S. Presidential Election day',
    '1996-11-05T09:00:00',
    'FREQ=YEARLY;INTERVAL=4;BYMONTH=11;BYDAY=TU;BYMONTHDAY=2,3,4,5,6,7,8',
    days('1996-11 5;2000-11 7;2004-11 2'),
  ],
  [
    'the third instance into the month of one of Tuesday, Wednesday, or Thursday, for the next 3 months',
    '1997-09-04T09:00:00',
    'FREQ=MONTHLY;COUNT=3;BYDAY=TU,WE,TH;BYSETPOS=3',
    days('1997-09 4;1997-10 7;1997-11 6'),
    true,
  ],
  [
    'the second-to-last weekday of the month',
    '1997-09-29T09:00:00',
    'FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-2',
    days('1997-09 29;1997-10 30;1997-11 27;1997-12 30;1998-01 29;1998-02 26;1998-03 30'),
  ],
  [
    'every 3 hours from 9:00 AM to 5:00 PM on a specific day',
    SEPT,
    'FREQ=HOURLY;INTERVAL=3;UNTIL=19970902T170000',
    ['1997-09-02T09:00:00', '1997-09-02T12:00:00', '1997-09-02T15:00:00'],
    true,
  ],
  [
    'every 15 minutes for 6 occurrences',
    SEPT,
    'FREQ=MINUTELY;INTERVAL=15;COUNT=6',
    ['09:00', '09:15', '09:30', '09:45', '10:00', '10:15'].map((t) => `1997-09-02T${t}:00`),
    true,
  ],
  [
    'week start matters: WKST=MO',
    '1997-08-05T09:00:00',
    'FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=MO',
    days('1997-08 5,10,19,24'),
    true,
  ],
  [
    'week start matters: WKST=SU',
    '1997-08-05T09:00:00',
    'FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=SU',
    days('1997-08 5,17,19,31'),
    true,
  ],
  [
    'an invalid date (February 30) is ignored',
    '2007-01-15T09:00:00',
    'FREQ=MONTHLY;BYMONTHDAY=15,30;COUNT=5',
    days('2007-01 15,30;2007-02 15;2007-03 15,30'),
    true,
  ],
];

describe('the recurrence examples of RFC 5545', () => {
  it.each(
    EXAMPLES.map(
      ([what, start, rule, expected, whole = false]) => [what, start, rule, expected, whole] as const,
    ),
  )('%s', (_what, start, rule, expected, whole) => {
    const found = occurrences({ start, rule }, start, '2013-01-01T00:00:00');
    expect(whole ? found : found.slice(0, expected.length)).toEqual(expected);
  });

  it('every Friday the 13th, its start left out as the standard does with EXDATE', () => {
    const found = occurrences(
      { start: SEPT, rule: 'FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13', except: [SEPT] },
      SEPT,
      '2000-12-31T00:00:00',
    );
    expect(found).toEqual(days('1998-02 13;1998-03 13;1998-11 13;1999-08 13;2000-10 13'));
  });

  it('says when a rule cannot be read, and ends one that never would', () => {
    expect(() => occurrences({ start: SEPT, rule: 'FREQ=NEVER' }, SEPT, SEPT)).toThrow(
      /is not a recurrence rule/,
    );
    expect(occurrences({ start: SEPT, rule: 'FREQ=SECONDLY' }, SEPT, '2999-01-01T00:00:00').length).toBe(
      5_000,
    );
  });
});

describe('recurrences across clock changes, against luxon', () => {
  const zones = [
    'Europe/London',
    'America/New_York',
    'Australia/Lord_Howe',
    'Pacific/Apia',
    'America/Sao_Paulo',
    'Asia/Kathmandu',
    'Africa/Casablanca',
  ];
  const RDAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'];

  it.each(zones)('%s: the same instants over four years, in the small hours too', (zone) => {
    for (const time of ['08:00', '01:30', '02:15', '23:45']) {
      for (const [day, every] of [
        [7, 1],
        [3, 2],
        [6, 3],
      ] as const) {
        const start = `2023-01-0${1 + day}T${time}:00`; // 2023-01-02 was a Monday
        const rule = `FREQ=WEEKLY;INTERVAL=${every};BYDAY=${RDAYS[day - 1]!}`;
        // A wall time that does not exist is asked about, and so left out on both sides; one that happens
        // twice is the earlier for both.
        const ours = occurrences({ start, rule }, start, '2026-12-30T23:59:59').flatMap((local) => {
          const meaning = meaningOf(local, zone)!;
          return meaning.kind === 'exact'
            ? [meaning.at]
            : meaning.kind === 'gap'
              ? []
              : [meaning.choices[0].at];
        });
        const first = DateTime.fromISO(start, { zone });
        const theirs = Array.from({ length: 250 }, (_, i) => first.plus({ weeks: i * every }))
          .filter(
            (d) =>
              d.toFormat("yyyy-MM-dd'T'HH:mm:ss") <= '2026-12-30T23:59:59' && d.toFormat('HH:mm') === time,
          )
          .map(
            (d) =>
              d
                .getPossibleOffsets()
                .map((o) => o.toUTC().toISO({ suppressMilliseconds: true })!)
                .sort()[0],
          );
        expect(ours.length).toBeGreaterThan(60);
        expect(ours).toEqual(theirs);
      }
    }
  });

  it('keeps the wall time of every date (property)', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...zones),
        fc.integer({ min: 0, max: 23 }),
        fc.integer({ min: 1, max: 8 }),
        (zone, hour, every) => {
          const clock = `${String(hour).padStart(2, '0')}:30:00`;
          const found = occurrences(
            { start: `2024-01-01T${clock}`, rule: `FREQ=WEEKLY;INTERVAL=${every};BYDAY=MO` },
            '2024-01-01T00:00:00',
            '2026-01-01T00:00:00',
          );
          expect(found.every((local) => local.endsWith(clock) && meaningOf(local, zone) !== null)).toBe(true);
          expect(found.length).toBe(Math.floor(104 / every) + 1);
        },
      ),
      { numRuns: 40 },
    );
  });
});
