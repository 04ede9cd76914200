import { Temporal } from 'temporal-polyfill';

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
  return Temporal.PlainDate.from(date).dayOfWeek;
}

/** The first day of the week that holds `date`; `firstDay` is an ISO weekday. */
export function startOfWeek(date: string, firstDay = 1): string {
  const day = Temporal.PlainDate.from(date);
  return day.subtract({ days: (day.dayOfWeek - firstDay + 7) % 7 }).toString();
}
