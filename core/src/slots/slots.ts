import { addDays, daysBetween, isDate } from '../time/zone.js';
import { weekday } from '../time/week.js';
import { formatCount, formatShortDate, WEEKDAYS } from '../time/format.js';
import { occurrences } from './recurrence.js';

/** One date of a standing slot that is not as the rule says: skipped, or moved to another day or time. */
export interface SlotException {
  /** The date the rule gives. */
  date: string;
  /** The date it is moved to; null when it is skipped. */
  movedTo: string | null;
  /** `HH:mm`, when the time is another one too. */
  movedTime: string | null;
}

/** What recurs: a weekday and time, every so many weeks, between two dates. */
export interface SlotRule {
  /** ISO weekday, 1 is Monday. */
  weekday: number;
  /** `HH:mm`, wall time of the blog's zone. */
  time: string;
  /** First and last date, `YYYY-MM-DD`, inclusive; null is without end. */
  from: string | null;
  until: string | null;
  /** 1 is every week. More than 1 needs `from`, from which the weeks are counted. */
  everyWeeks: number;
  exceptions: SlotException[];
}

/** A recurring opening on the calendar. */
export interface StandingSlot extends SlotRule {
  id: number;
  categoryId: number;
  /** The kind of post wanted here, or ''. */
  format: string;
}

/** One date of a standing slot. */
export interface SlotDate {
  slotId: number;
  date: string;
  time: string;
  categoryId: number;
  format: string;
  /** The date the rule gives, when this one was moved away from it. */
  movedFrom: string | null;
}

const DAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'];

/** The slot as an RRULE of RFC 5545. */
export function rruleOf({ weekday: day, everyWeeks, until }: SlotRule): string {
  return [
    'FREQ=WEEKLY',
    ...(everyWeeks > 1 ? [`INTERVAL=${everyWeeks}`] : []),
    `BYDAY=${DAYS[day - 1]!}`,
    ...(until ? [`UNTIL=${until.replace(/-/g, '')}T235959`] : []),
  ].join(';');
}

/** The first date of the rule on or after `date`, keeping step with its weeks; where counting may begin. */
function inStep(rule: SlotRule, date: string): string {
  const onDay = (from: string) => addDays(from, (rule.weekday - weekday(from) + 7) % 7);
  if (rule.from === null) return onDay(date);
  const first = onDay(rule.from);
  if (date <= first) return first;
  const step = 7 * rule.everyWeeks;
  return addDays(first, Math.ceil(daysBetween(first, date) / step) * step);
}

/** The dates that the rule gives from `from` to `to`, before any is skipped or moved. */
function ruleDates(rule: SlotRule, from: string, to: string): string[] {
  const start = inStep(rule, from);
  if (start > to) return [];
  return occurrences(
    { start: `${start}T${rule.time}:00`, rule: rruleOf(rule) },
    `${from}T00:00:00`,
    `${to}T23:59:59`,
  ).map((local) => local.slice(0, 10));
}

/**
 * Every date of the slots from `from` to `to`, both inclusive, in order of time; skipped dates left out,
 * moved ones where they are.
 */
export function slotDates(slots: readonly StandingSlot[], from: string, to: string): SlotDate[] {
  const found: SlotDate[] = [];
  for (const slot of slots) {
    const { id: slotId, categoryId, format } = slot;
    const excepted = new Map(slot.exceptions.map((e) => [e.date, e]));
    for (const date of ruleDates(slot, from, to)) {
      if (!excepted.has(date))
        found.push({ slotId, date, time: slot.time, categoryId, format, movedFrom: null });
    }
    for (const { date, movedTo, movedTime } of slot.exceptions) {
      if (movedTo === null || movedTo < from || movedTo > to || ruleDates(slot, date, date).length === 0)
        continue;
      found.push({
        slotId,
        date: movedTo,
        time: movedTime ?? slot.time,
        categoryId,
        format,
        movedFrom: date,
      });
    }
  }
  return found.sort(
    (a, b) => `${a.date}${a.time}`.localeCompare(`${b.date}${b.time}`) || a.slotId - b.slotId,
  );
}

/**
 * The next `count` dates of one slot on or after `from`, with those that are skipped or moved marked; looks
 * ten years ahead.
 */
export function nextDates(
  slot: SlotRule,
  from: string,
  count: number,
): { date: string; exception: SlotException | null }[] {
  const start = inStep(slot, from);
  const last = addDays(start, Math.min(3653, 7 * slot.everyWeeks * (count + 1)));
  const excepted = new Map(slot.exceptions.map((e) => [e.date, e]));
  return ruleDates(slot, start, last)
    .slice(0, count)
    .map((date) => ({ date, exception: excepted.get(date) ?? null }));
}

/** What is wrong with a rule, as a sentence, or null. */
export function slotError(rule: SlotRule): string | null {
  if (rule.from && rule.until && rule.until < rule.from)
    return `The slot ends on ${formatShortDate(rule.until, rule.from)}, before it begins.`;
  if (rule.everyWeeks > 1 && !rule.from)
    return `Say from when, so that every ${formatCount(rule.everyWeeks, 'week')} can be counted.`;
  if (rule.from && rule.until && ruleDates(rule, rule.from, rule.until).length === 0) {
    return (
      `No ${WEEKDAYS[rule.weekday - 1]!} falls between ${formatShortDate(rule.from)} and ` +
      `${formatShortDate(rule.until, rule.from)}: the slot would have no date.`
    );
  }
  const seen = new Set<string>();
  for (const { date, movedTo } of rule.exceptions) {
    if (!isDate(date) || ruleDates(rule, date, date).length === 0)
      return `${formatShortDate(date)} is not a date of this slot.`;
    if (seen.has(date)) return `${formatShortDate(date)} is skipped or moved twice.`;
    seen.add(date);
    if (movedTo !== null && Math.abs(daysBetween(date, movedTo)) > 60)
      return `${formatShortDate(date)} cannot be moved further than 60 days.`;
  }
  if (
    rule.from &&
    rule.until &&
    ruleDates(rule, rule.from, rule.until).every((d) =>
      rule.exceptions.some((e) => e.date === d && e.movedTo === null),
    )
  )
    return 'Every date of the slot is skipped: it would have no date.';
  return null;
}

/** `Tuesdays 08:00`, `Every 2 weeks on Tuesday 08:00, from Tue 1 Dec until Tue 2 Mar`. */
export function formatSlot(rule: SlotRule, today?: string): string {
  const day = WEEKDAYS[rule.weekday - 1]!;
  const recurs =
    rule.everyWeeks === 1 ? `${day}s ${rule.time}` : `Every ${rule.everyWeeks} weeks on ${day} ${rule.time}`;
  return [
    recurs,
    ...(rule.from ? [`from ${formatShortDate(rule.from, today)}`] : []),
    ...(rule.until ? [`until ${formatShortDate(rule.until, today)}`] : []),
  ]
    .join(', ')
    .replace(', until', ' until');
}
