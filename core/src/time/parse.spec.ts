import fc from 'fast-check';
import { formatField, parseClock, parseDate } from './parse.js';
import { formatDate, formatShortDate } from './format.js';

// A Thursday.
const TODAY = '2026-11-26';

describe('a day as people type it', () => {
  test.each([
    ['2026-12-01', '2026-12-01'],
    [' 1 Dec 2026 ', '2026-12-01'],
    ['Tue 1 December 2026', '2026-12-01'],
    ['tuesday, 1 december', '2026-12-01'],
    ['Dec 1', '2026-12-01'],
    ['December 1st, 2027', '2027-12-01'],
    ['1.12.2026', '2026-12-01'],
    ['1/12/26', '2026-12-01'],
    ['1.12.', '2026-12-01'],
    ['2 Jan', '2027-01-02'],
    ['30 June', '2026-06-30'],
    ['29 Feb', ''],
    ['29 Feb 2028', '2028-02-29'],
    ['today', TODAY],
    ['Tomorrow', '2026-11-27'],
    ['yesterday', '2026-11-25'],
    ['friday', '2026-11-27'],
    ['Thu', '2026-12-03'],
    ['31.11.2026', ''],
    ['13/13', ''],
    ['0 Dec', ''],
    ['1 Foo 2026', ''],
    ['', ''],
    ['soon', ''],
    ['2026-13-45', ''],
    ['1 ma', ''],
    ['__proto__', ''],
    ['constructor', ''],
  ])('%s', (typed, wanted) => {
    expect(parseDate(typed, TODAY) ?? '').toBe(wanted);
  });

  test('what the newsroom writes, it reads', () => {
    fc.assert(
      fc.property(
        fc.date({ min: new Date('1990-01-01'), max: new Date('2099-12-31'), noInvalidDate: true }),
        (at) => {
          const day = at.toISOString().slice(0, 10);
          expect(parseDate(formatField(day), TODAY)).toBe(day);
          expect(parseDate(formatShortDate(day, TODAY), day)).toBe(day);
          expect(parseDate(formatDate(day), day)).toBe(day);
        },
      ),
    );
  });

  test('whatever is typed, it is a day of the calendar or nothing', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 30 }), (typed) => {
        const day = parseDate(typed, TODAY);
        expect(day === null || !Number.isNaN(Date.parse(`${day}T00:00:00Z`))).toBe(true);
      }),
    );
  });
});

test.each([
  ['8', '08:00'],
  ['8:00', '08:00'],
  ['08.30', '08:30'],
  ['0830', '08:30'],
  ['14h30', '14:30'],
  ['14:30:05', '14:30:05'],
  ['14:30:00', '14:30'],
  ['2 pm', '14:00'],
  ['12am', '00:00'],
  ['12:15 pm', '12:15'],
  ['0', '00:00'],
  ['24:00', ''],
  ['8:60', ''],
  ['13 pm', ''],
  ['', ''],
  ['noon', ''],
])('a time of day as people type it: %s', (typed, wanted) => {
  expect(parseClock(typed) ?? '').toBe(wanted);
});
