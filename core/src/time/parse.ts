import { Temporal } from 'temporal-polyfill';
import { MONTHS, WEEKDAYS } from './format.js';
import { addDays, isDate } from './zone.js';

const WORDS = new Map([
  ['today', 0],
  ['tomorrow', 1],
  ['yesterday', -1],
]);

const startsOne = (names: readonly string[], word: string): number =>
  word.length < 3 ? -1 : names.findIndex((name) => name.toLowerCase().startsWith(word));

/** The day that parts name, or null when no calendar has it. */
function dayOf(year: number, month: number, day: number): string | null {
  const text = `${String(year).padStart(4, '0')}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
  return isDate(text) ? text : null;
}

/** Without a year, the one that comes nearest to today is meant: no one plans eleven months back. */
function nearest(month: number, day: number, today: string): string | null {
  const year = Number(today.slice(0, 4));
  const days = [year - 1, year, year + 1].flatMap((y) => dayOf(y, month, day) ?? []);
  const from = Temporal.PlainDate.from(today);
  const distance = (date: string) => Math.abs(from.until(date, { largestUnit: 'days' }).days);
  return days.sort((a, b) => distance(a) - distance(b))[0] ?? null;
}

/**
 * A day as people type it, as `YYYY-MM-DD`: `2026-12-01`, `1 Dec 2026`, `Tue 1 December`, `1.12.2026`, `1/12`, `today`,
 * `tomorrow`, `friday` (the next one). Days stand before months, as in Europe. A weekday in front of a date
 * is read over. Null for anything else, and for days that no calendar has.
 */
export function parseDate(typed: string, today: string): string | null {
  const text = typed.trim().toLowerCase().replace(/,/g, ' ').replace(/\s+/g, ' ');
  if (isDate(text)) return text;
  const step = WORDS.get(text);
  if (step !== undefined) return addDays(today, step);
  const weekday = startsOne(WEEKDAYS, text);
  if (weekday >= 0) {
    const now = Temporal.PlainDate.from(today).dayOfWeek;
    return addDays(today, (weekday + 1 - now + 7) % 7 || 7);
  }
  const rest = text.replace(/^([a-z]{3,9})\.? (?=\d)/, (all, word: string) =>
    startsOne(WEEKDAYS, word) >= 0 ? '' : all,
  );
  const named =
    /^(\d{1,2})(?:st|nd|rd|th|\.)? ([a-z]{3,9})\.?(?: (\d{4}))?$/.exec(rest) ??
    /^([a-z]{3,9})\.? (\d{1,2})(?:st|nd|rd|th)?(?: (\d{4}))?$/.exec(rest);
  if (named) {
    const [day, name] = /^\d/.test(named[1]!) ? [named[1], named[2]] : [named[2], named[1]];
    const month = startsOne(MONTHS, name!) + 1;
    if (month === 0) return null;
    return named[3] ? dayOf(Number(named[3]), month, Number(day)) : nearest(month, Number(day), today);
  }
  const digits = /^(\d{1,2})[./-](\d{1,2})(?:[./-](\d{4}|\d{2}))?\.?$/.exec(rest);
  if (!digits) return null;
  const [day, month] = [Number(digits[1]), Number(digits[2])];
  if (!digits[3]) return nearest(month, day, today);
  return dayOf(digits[3].length === 2 ? 2000 + Number(digits[3]) : Number(digits[3]), month, day);
}

/**
 * A time of day as people type it, as `HH:MM` or, with seconds, `HH:MM:SS`: `8`, `8:00`, `08.00`, `0800`,
 * `14h30`, `2 pm`. Null for anything else.
 */
export function parseClock(typed: string): string | null {
  const text = typed.trim().toLowerCase();
  const parts = /^(\d{1,2})(?:[:.h]?(\d{2}))?(?:[:.](\d{2}))? ?(am|pm|h)?$/.exec(text);
  if (!parts) return null;
  let hour = Number(parts[1]);
  const [minute, second] = [Number(parts[2] ?? 0), Number(parts[3] ?? 0)];
  const half = parts[4];
  if (half === 'am' || half === 'pm') {
    if (hour < 1 || hour > 12) return null;
    hour = (hour % 12) + (half === 'pm' ? 12 : 0);
  }
  if (hour > 23 || minute > 59 || second > 59) return null;
  const two = (n: number) => String(n).padStart(2, '0');
  return `${two(hour)}:${two(minute)}${second ? `:${two(second)}` : ''}`;
}

/** `Tue 1 Dec 2026`: a day as it stands in a field, where the year must be seen. */
export function formatField(date: string): string {
  const day = Temporal.PlainDate.from(date);
  return `${WEEKDAYS[day.dayOfWeek - 1]!.slice(0, 3)} ${day.day} ${MONTHS[day.month - 1]!.slice(0, 3)} ${day.year}`;
}
