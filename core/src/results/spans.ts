import { addDays, daysBetween } from '../time/zone.js';

/** Days from the first to the last, both among them. */
export interface Span {
  from: string;
  to: string;
}

/** Spans that are offered, in days up to today. */
export const SPAN_DAYS = [7, 28, 91, 365] as const;

/** Days from the release on in which posts are compared, so that young and old are measured alike. */
export const FIRST_DAYS = 7;

export const lastDays = (today: string, days: number): Span => ({
  from: addDays(today, 1 - days),
  to: today,
});

export const daysIn = ({ from, to }: Span): number => daysBetween(from, to) + 1;

/** As many days right before. */
export const spanBefore = (span: Span): Span => ({
  from: addDays(span.from, -daysIn(span)),
  to: addDays(span.from, -1),
});

/** Every day of a span with its value, 0 where there is none. */
export function everyDay(span: Span, values: ReadonlyMap<string, number>): { day: string; value: number }[] {
  return Array.from({ length: daysIn(span) }, (_, i) => {
    const day = addDays(span.from, i);
    return { day, value: values.get(day) ?? 0 };
  });
}
