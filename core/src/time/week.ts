import { Temporal } from 'temporal-polyfill';
import { addDays, dayNumber } from './zone.js';

export interface IsoWeek {
  year: number;
  week: number;
}

/** ISO 8601 week and week year of a date `YYYY-MM-DD`. */
export function isoWeek(date: string): IsoWeek {
  const day = Temporal.PlainDate.from(date);
  return { year: day.yearOfWeek ?? day.year, week: day.weekOfYear ?? 0 };
}

/** ISO weekday: 1 is Monday, 7 is Sunday. */
export function weekday(date: string): number {
  // 1970-01-01 was a Thursday.
  return ((((dayNumber(date) + 3) % 7) + 7) % 7) + 1;
}

/** The first day of the week that holds `date`; `firstDay` is an ISO weekday. */
export function startOfWeek(date: string, firstDay = 1): string {
  return addDays(date, -((weekday(date) - firstDay + 7) % 7));
}
