import { DateTime } from 'luxon';
import { fc } from '../testing.js';
import { addDays, dateOf, daysBetween, isDate, isLater, isZone, meaningOf, wallTimeOf } from './zone.js';
import { isoWeek, startOfWeek, weekday } from './week.js';
import { formatClock, formatCount, formatDistance, formatShortDate, formatWhen } from './format.js';

describe('wall time to instant', () => {
  // Transitions published in the IANA time zone database (2024a and later), files europe, northamerica,
  // australasia.
  it.each([
    ['Europe/London', '2026-03-29T01:30', 'gap'],
    ['Europe/London', '2026-10-25T01:30', 'doubled'],
    ['Europe/Berlin', '2026-03-29T02:30', 'gap'],
    ['Europe/Berlin', '2026-10-25T02:30', 'doubled'],
    ['America/New_York', '2026-03-08T02:30', 'gap'],
    ['America/New_York', '2026-11-01T01:30', 'doubled'],
    ['Australia/Lord_Howe', '2026-04-05T01:45', 'doubled'],
    ['Australia/Lord_Howe', '2026-10-04T02:15', 'gap'],
    ['Asia/Kolkata', '2026-03-29T01:30', 'exact'],
    ['Pacific/Apia', '2011-12-30T12:00', 'gap'],
  ] as const)('in %s %s is %s', (zone, local, kind) => {
    expect(meaningOf(local, zone)?.kind).toBe(kind);
  });

  it('offers the two nearest times that exist for one that does not', () => {
    expect(meaningOf('2026-03-29T01:30', 'Europe/London')).toEqual({
      kind: 'gap',
      choices: [
        { local: '2026-03-29T00:59:00', offset: '+00:00', at: '2026-03-29T00:59:00Z' },
        { local: '2026-03-29T02:00:00', offset: '+01:00', at: '2026-03-29T01:00:00Z' },
      ],
    });
  });

  it('offers the earlier first for one that happens twice, and an offset decides', () => {
    const meaning = meaningOf('2026-10-25T01:30', 'Europe/London');
    expect(meaning).toMatchObject({
      kind: 'doubled',
      choices: [
        { offset: '+01:00', at: '2026-10-25T00:30:00Z' },
        { offset: '+00:00', at: '2026-10-25T01:30:00Z' },
      ],
    });
    expect(meaningOf('2026-10-25T01:30+00:00', 'Europe/London')).toEqual({
      kind: 'exact',
      local: '2026-10-25T01:30:00',
      at: '2026-10-25T01:30:00Z',
    });
    expect(meaningOf('2026-10-25T01:30Z', 'Europe/Berlin')).toMatchObject({ local: '2026-10-25T02:30:00' });
  });

  it.each([
    '',
    'soon',
    '2026-13-01T08:00',
    '2026-02-30T08:00',
    '2026-11-27',
    '2026-11-27T25:00',
    '2026-11-27T08:00+99:00',
  ])('refuses %j', (text) => {
    expect(meaningOf(text, 'Europe/London')).toBeNull();
  });

  it('agrees with a second library over many zones and times (luxon)', () => {
    const zones = [
      'Europe/London',
      'Europe/Berlin',
      'America/New_York',
      'America/St_Johns',
      'Asia/Kathmandu',
      'Australia/Lord_Howe',
      'Pacific/Auckland',
      'America/Sao_Paulo',
    ];
    fc.assert(
      fc.property(
        fc.constantFrom(...zones),
        fc.integer({ min: Date.UTC(2000, 0) / 1000, max: Date.UTC(2037, 0) / 1000 }),
        (zone, seconds) => {
          const at = new Date(seconds * 1000).toISOString().replace('.000', '');
          const theirs = DateTime.fromSeconds(seconds, { zone });
          const local = theirs.toFormat("yyyy-MM-dd'T'HH:mm:ss");
          expect(wallTimeOf(at, zone)).toBe(local);
          const back = meaningOf(local, zone);
          expect(back?.kind).not.toBe('gap');
          const instants = back?.kind === 'exact' ? [back.at] : back?.choices.map((c) => c.at);
          expect(instants).toContain(at);
        },
      ),
      { numRuns: 300 },
    );
  });

  it('knows zones by name', () => {
    expect(isZone('Europe/London')).toBe(true);
    expect(isZone('Mars/Olympus')).toBe(false);
    expect(isZone('+01:00')).toBe(false);
  });

  it('counts days across clock changes', () => {
    expect(addDays('2026-03-28', 2)).toBe('2026-03-30');
    expect(daysBetween('2026-10-24', '2026-10-26')).toBe(2);
    expect(dateOf('2026-06-30T23:30:00Z', 'Europe/London')).toBe('2026-07-01');
    expect(isDate('2026-02-29')).toBe(false);
    expect(isDate('2028-02-29')).toBe(true);
    expect(isLater('2026-11-25T08:00:00.100Z', '2026-11-25T08:00:00Z')).toBe(true);
    expect(isLater('2026-11-25T08:00:00Z', '2026-11-25T08:00:00.100Z')).toBe(false);
    expect(isLater('2026-11-25T08:00:00Z', '2026-11-25T08:00:00.000Z')).toBe(false);
  });
});

describe('ISO 8601 weeks', () => {
  // The examples printed in ISO 8601-1:2019 and in the table "Dates with fixed week number" (from memory).
  it.each([
    ['2005-01-01', 2004, 53],
    ['2005-01-02', 2004, 53],
    ['2005-12-31', 2005, 52],
    ['2006-01-01', 2005, 52],
    ['2006-01-02', 2006, 1],
    ['2006-12-31', 2006, 52],
    ['2007-01-01', 2007, 1],
    ['2007-12-30', 2007, 52],
    ['2007-12-31', 2008, 1],
    ['2008-01-01', 2008, 1],
    ['2008-12-28', 2008, 52],
    ['2008-12-29', 2009, 1],
    ['2009-12-31', 2009, 53],
    ['2010-01-01', 2009, 53],
    ['2010-01-03', 2009, 53],
    ['2010-01-04', 2010, 1],
  ])('%s lies in %i week %i', (date, year, week) => {
    expect(isoWeek(date)).toEqual({ year, week });
  });
  it('starts weeks on the day that is set', () => {
    expect(startOfWeek('2026-11-25')).toBe('2026-11-23');
    expect(startOfWeek('2026-11-25', 7)).toBe('2026-11-22');
    expect(startOfWeek('2026-11-23')).toBe('2026-11-23');
    expect(weekday('2026-11-29')).toBe(7);
  });
});

describe('dates in words', () => {
  it('says them as people do', () => {
    expect(formatWhen('2026-11-27T12:00:00', '2026-11-25')).toBe('Friday 27 November at 12:00');
    expect(formatWhen('2027-01-01T08:00:30', '2026-11-25')).toBe('Friday 1 January 2027 at 08:00:30');
    expect(formatShortDate('2026-11-27')).toBe('Fri 27 Nov');
    expect(formatClock('2026-11-27T08:00:00')).toBe('08:00');
    expect(formatDistance('2026-11-24', '2026-11-25')).toBe('yesterday');
    expect(formatDistance('2026-12-07', '2026-11-25')).toBe('in 12 days');
    expect(formatCount(1146, 'word')).toBe('1,146 words');
    expect(formatCount(1, 'open slot')).toBe('1 open slot');
  });
});
