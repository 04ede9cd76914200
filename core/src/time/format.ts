import { Temporal } from 'temporal-polyfill';
import { daysBetween, type WallTime } from './zone.js';

export const WEEKDAYS = [
  'Monday',
  'Tuesday',
  'Wednesday',
  'Thursday',
  'Friday',
  'Saturday',
  'Sunday',
] as const;
export const MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
] as const;

function parts(date: string) {
  const day = Temporal.PlainDate.from(date.slice(0, 10));
  return { day, weekday: WEEKDAYS[day.dayOfWeek - 1] ?? '', month: MONTHS[day.month - 1] ?? '' };
}

/** `November 2026`, of `2026-11`. */
export const formatMonth = (month: string): string =>
  `${MONTHS[Number(month.slice(5, 7)) - 1] ?? ''} ${month.slice(0, 4)}`;

/** `Friday 27 November`; the year is added when it is not that of `today`. */
export function formatDate(date: string, today?: string): string {
  const { day, weekday, month } = parts(date);
  const year = today && day.year !== Number(today.slice(0, 4)) ? ` ${day.year}` : '';
  return `${weekday} ${day.day} ${month}${year}`;
}

/** `Fri 27 Nov`; the year is added when it is not that of `today`. */
export function formatShortDate(date: string, today?: string): string {
  const { day, weekday, month } = parts(date);
  const year = today && day.year !== Number(today.slice(0, 4)) ? ` ${day.year}` : '';
  return `${weekday.slice(0, 3)} ${day.day} ${month.slice(0, 3)}${year}`;
}

/** `08:00`, or `08:00:30` when there are seconds. */
export function formatClock(local: WallTime): string {
  const clock = local.slice(11, 19);
  return clock.endsWith(':00') ? clock.slice(0, 5) : clock;
}

/** An hour of the day as a clock shows it: `08:00`. */
export const formatHour = (hour: number): string => `${String(hour).padStart(2, '0')}:00`;

/** `Friday 27 November at 12:00`. */
export function formatWhen(local: WallTime, today?: string): string {
  return `${formatDate(local, today)} at ${formatClock(local)}`;
}

/** `today`, `yesterday`, `in 3 days`, `12 days ago`. */
export function formatDistance(date: string, today: string): string {
  const days = daysBetween(today, date);
  if (days === 0) return 'today';
  if (days === 1) return 'tomorrow';
  if (days === -1) return 'yesterday';
  return days > 0 ? `in ${days} days` : `${-days} days ago`;
}

/** Made once: making one takes longer than a thousand uses. */
const FIGURES = new Intl.NumberFormat('en-GB');

/** `1 word`, `2 words`, `1,146 words`. */
export function formatCount(n: number, one: string, many = `${one}s`): string {
  return `${n >= 0 && n < 1000 ? n : FIGURES.format(n)} ${n === 1 ? one : many}`;
}
