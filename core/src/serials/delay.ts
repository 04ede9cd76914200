import { Temporal } from 'temporal-polyfill';
import { instantOf, type Instant } from '../time/zone.js';
import { formatList } from '../text/list.js';

/** How long after a reader's first visit a part of a serial comes: days of the calendar, then hours and minutes. */
export interface Delay {
  days: number;
  hours: number;
  minutes: number;
}

export const NO_DELAY: Delay = { days: 0, hours: 0, minutes: 0 };
export const MAX_DELAY: Delay = { days: 730, hours: 23, minutes: 59 };

export const isDelayed = ({ days, hours, minutes }: Delay): boolean => days + hours + minutes > 0;

/** As the nominal length that it has on a day without a change of clocks, in minutes; for order only. */
export const nominalMinutes = ({ days, hours, minutes }: Delay): number => (days * 24 + hours) * 60 + minutes;

/**
 * When a part is due for a reader. Days are days of the calendar in the blog's zone: who came at 18:00 gets the next
 * day's part at 18:00, also when the clocks changed in between; hours and minutes pass as they are (RFC 5545, 3.3.6,
 * says the same of durations).
 */
export function dueAt(firstVisit: Instant, { days, hours, minutes }: Delay, zone: string): Instant {
  return instantOf(
    Temporal.Instant.from(firstVisit).toZonedDateTimeISO(zone).add({ days }).add({ hours, minutes }),
  );
}

const MINUTE = 60_000;
const asInstant = (ms: number): Instant =>
  Temporal.Instant.fromEpochMilliseconds(ms).toString({ smallestUnit: 'second' });

/**
 * The last whole minute at which a first visit had to be for the part to be due by `now`. Who came in it or before has
 * the part, who came later has not; both since a later visit is never due earlier.
 */
export function lastVisitDue(now: Instant, delay: Delay, zone: string): Instant {
  const due = (ms: number) => Date.parse(dueAt(asInstant(ms), delay, zone)) <= Date.parse(now);
  const guess = Math.floor((Date.parse(now) - nominalMinutes(delay) * MINUTE) / MINUTE) * MINUTE;
  // Clocks change by a day at most (a zone that moved over the date line).
  let [low, high] = [guess - 1500 * MINUTE, guess + 1500 * MINUTE];
  while (high - low > MINUTE) {
    const middle = low + Math.floor((high - low) / MINUTE / 2) * MINUTE;
    if (due(middle)) low = middle;
    else high = middle;
  }
  return asInstant(low);
}

const counted = (n: number, word: string) => `${n} ${word}${n === 1 ? '' : 's'}`;

/** “3 days and 6 hours after the first visit”, “at the first visit”. */
export function formatDelay(delay: Delay): string {
  if (!isDelayed(delay)) return 'at the first visit';
  const { days, hours, minutes } = delay;
  const parts = [
    ...(days ? [counted(days, 'day')] : []),
    ...(hours ? [counted(hours, 'hour')] : []),
    ...(minutes ? [counted(minutes, 'minute')] : []),
  ];
  return `${formatList(parts)} after the first visit`;
}
