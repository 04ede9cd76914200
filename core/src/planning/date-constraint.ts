import { daysBetween, isDate } from '../time/zone.js';
import { formatCount, formatShortDate } from '../time/format.js';

/** When a dated idea may run; all dates `YYYY-MM-DD`, null where it does not matter. */
export interface DateConstraint {
  notBefore: string | null;
  notAfter: string | null;
  mustBeOn: string | null;
}

export const NO_DATE_CONSTRAINT: DateConstraint = { notBefore: null, notAfter: null, mustBeOn: null };

export const hasDateConstraint = (dateConstraint: DateConstraint): boolean =>
  dateConstraint.notBefore !== null || dateConstraint.notAfter !== null || dateConstraint.mustBeOn !== null;

/** What is wrong with a wish itself, or null. */
export function dateConstraintError({ notBefore, notAfter, mustBeOn }: DateConstraint): string | null {
  if ([notBefore, notAfter, mustBeOn].some((d) => d !== null && !isDate(d)))
    return 'A date is written like 2026-12-24.';
  if (notBefore && notAfter && notAfter < notBefore)
    return (
      `Not before ${formatShortDate(notBefore)} and not after ` +
      `${formatShortDate(notAfter, notBefore)} leaves no day.`
    );
  if (mustBeOn && ((notBefore && mustBeOn < notBefore) || (notAfter && mustBeOn > notAfter)))
    return `It must be on ${formatShortDate(mustBeOn)}, which its other dates rule out.`;
  return null;
}

/** `on Thu 24 Dec`, `not before Tue 1 Dec, not after Sat 12 Dec`, or ''. */
export function formatDateConstraint(
  { notBefore, notAfter, mustBeOn }: DateConstraint,
  today?: string,
): string {
  if (mustBeOn) return `on ${formatShortDate(mustBeOn, today)}`;
  return [
    ...(notBefore ? [`not before ${formatShortDate(notBefore, today)}`] : []),
    ...(notAfter ? [`not after ${formatShortDate(notAfter, today)}`] : []),
  ].join(', ');
}

/** What a date has against a wish, or null. */
export function conflictsWithDate(dateConstraint: DateConstraint, date: string): string | null {
  if (dateConstraint.mustBeOn && dateConstraint.mustBeOn !== date)
    return `It must be on ${formatShortDate(dateConstraint.mustBeOn, date)}.`;
  if (dateConstraint.notBefore && date < dateConstraint.notBefore)
    return `Not before ${formatShortDate(dateConstraint.notBefore, date)}.`;
  if (dateConstraint.notAfter && date > dateConstraint.notAfter)
    return `Not after ${formatShortDate(dateConstraint.notAfter, date)}.`;
  return null;
}

/**
 * Days until the last day a pitch may run: 0 today, negative once its day has gone by; null when any day will
 * do.
 */
export function daysToRun(dateConstraint: DateConstraint, today: string): number | null {
  const last = dateConstraint.mustBeOn ?? dateConstraint.notAfter;
  return last === null ? null : daysBetween(today, last);
}

/**
 * A dated pitch this near needs a place now: a week's runway and the time to write (common practice, no
 * published source).
 */
const PRESSING_DAYS = 21;

/** `its day has gone by`, `12 days to go`, or '' when there is time. */
export function formatPressing(dateConstraint: DateConstraint, today: string): string {
  const days = daysToRun(dateConstraint, today);
  if (days === null || days > PRESSING_DAYS) return '';
  return days < 0
    ? 'its day has gone by'
    : days === 0
      ? 'today or never'
      : `${formatCount(days, 'day')} to go`;
}
