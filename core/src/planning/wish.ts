import { daysBetween, isDate } from '../time/zone.js';
import { sayCount, sayShortDate } from '../time/say.js';

/** When a dated idea may run; all dates `YYYY-MM-DD`, null where it does not matter. */
export interface DateWish {
  notBefore: string | null;
  notAfter: string | null;
  mustBeOn: string | null;
}

export const NO_WISH: DateWish = { notBefore: null, notAfter: null, mustBeOn: null };

export const hasWish = (wish: DateWish): boolean => wish.notBefore !== null || wish.notAfter !== null || wish.mustBeOn !== null;

/** What is wrong with a wish itself, or null. */
export function wishFault({ notBefore, notAfter, mustBeOn }: DateWish): string | null {
  if ([notBefore, notAfter, mustBeOn].some((d) => d !== null && !isDate(d))) return 'A date is written like 2026-12-24.';
  if (notBefore && notAfter && notAfter < notBefore) return `Not before ${sayShortDate(notBefore)} and not after ${sayShortDate(notAfter, notBefore)} leaves no day.`;
  if (mustBeOn && ((notBefore && mustBeOn < notBefore) || (notAfter && mustBeOn > notAfter))) return `It must be on ${sayShortDate(mustBeOn)}, which its other dates rule out.`;
  return null;
}

/** `on Thu 24 Dec`, `not before Tue 1 Dec, not after Sat 12 Dec`, or ''. */
export function sayWish({ notBefore, notAfter, mustBeOn }: DateWish, today?: string): string {
  if (mustBeOn) return `on ${sayShortDate(mustBeOn, today)}`;
  return [...(notBefore ? [`not before ${sayShortDate(notBefore, today)}`] : []), ...(notAfter ? [`not after ${sayShortDate(notAfter, today)}`] : [])].join(', ');
}

/** What a date has against a wish, or null. */
export function againstWish(wish: DateWish, date: string): string | null {
  if (wish.mustBeOn && wish.mustBeOn !== date) return `It must be on ${sayShortDate(wish.mustBeOn, date)}.`;
  if (wish.notBefore && date < wish.notBefore) return `Not before ${sayShortDate(wish.notBefore, date)}.`;
  if (wish.notAfter && date > wish.notAfter) return `Not after ${sayShortDate(wish.notAfter, date)}.`;
  return null;
}

/** Days until the last day a pitch may run: 0 today, negative once its day has gone by; null when any day will do. */
export function daysToRun(wish: DateWish, today: string): number | null {
  const last = wish.mustBeOn ?? wish.notAfter;
  return last === null ? null : daysBetween(today, last);
}

/** A dated pitch this near needs a place now: a week's runway and the time to write (common practice, no published source). */
const PRESSING_DAYS = 21;

/** `its day has gone by`, `12 days to go`, or '' when there is time. */
export function sayPressing(wish: DateWish, today: string): string {
  const days = daysToRun(wish, today);
  if (days === null || days > PRESSING_DAYS) return '';
  return days < 0 ? 'its day has gone by' : days === 0 ? 'today or never' : `${sayCount(days, 'day')} to go`;
}
