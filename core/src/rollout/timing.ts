import { addDays } from '../time/zone.js';
import { WEEKDAYS, formatClock, formatShortDate } from '../time/format.js';
import { weekday } from '../time/week.js';
import type { WallTime } from '../time/zone.js';

/** When a piece goes out, by its post's release. */
export type Timing =
  /** So many minutes after the release. */
  | { kind: 'same hour'; minutes: number }
  | { kind: 'same day'; time: string }
  | { kind: 'next day'; time: string }
  /** The first such day after the release: “that Friday”. 1 is Monday. */
  | { kind: 'weekday'; weekday: number; time: string }
  /** Seven days after, and a month after. */
  | { kind: 'next week'; time: string }
  | { kind: 'next month'; time: string }
  /** A date of its own, which does not move with the release. */
  | { kind: 'date'; local: WallTime };

export const TIMING_KINDS = [
  'same hour',
  'same day',
  'next day',
  'weekday',
  'next week',
  'next month',
  'date',
] as const;

const minutesOf = (local: WallTime) =>
  Date.UTC(
    Number(local.slice(0, 4)),
    Number(local.slice(5, 7)) - 1,
    Number(local.slice(8, 10)),
    Number(local.slice(11, 13)),
    Number(local.slice(14, 16)),
  ) / 60_000;
const wallOf = (minutes: number): WallTime => new Date(minutes * 60_000).toISOString().slice(0, 19);
/** A wall time so many minutes later by the clock on the wall. */
export const laterBy = (local: WallTime, minutes: number): WallTime => wallOf(minutesOf(local) + minutes);

/** A month later; the 31st goes to the last day of a shorter month. */
function monthLater(date: string): string {
  const [year, month, day] = date.split('-').map(Number) as [number, number, number];
  const last = new Date(Date.UTC(year, month + 1, 0)).getUTCDate();
  return new Date(Date.UTC(year, month, Math.min(day, last))).toISOString().slice(0, 10);
}

/**
 * The wall time at which a piece is due, by the wall time of its post's release. Never before the release: a
 * time of day that has passed when the post goes out on the same day is taken on the next day.
 */
export function dueOf(timing: Timing, release: WallTime): WallTime {
  const day = release.slice(0, 10);
  const at = (date: string, time: string): WallTime => `${date}T${time}:00`;
  switch (timing.kind) {
    case 'same hour':
      return laterBy(release, timing.minutes);
    case 'same day': {
      const due = at(day, timing.time);
      return due >= release ? due : at(addDays(day, 1), timing.time);
    }
    case 'next day':
      return at(addDays(day, 1), timing.time);
    case 'weekday': {
      const ahead = (timing.weekday - weekday(day) + 7) % 7;
      const due = at(addDays(day, ahead), timing.time);
      return due > release ? due : at(addDays(day, ahead + 7), timing.time);
    }
    case 'next week':
      return at(addDays(day, 7), timing.time);
    case 'next month':
      return at(monthLater(day), timing.time);
    case 'date':
      return timing.local;
  }
}

export function formatTiming(timing: Timing): string {
  switch (timing.kind) {
    case 'same hour':
      return timing.minutes === 0 ? 'with the release' : `${timing.minutes} min after the release`;
    case 'same day':
      return `same day at ${timing.time}`;
    case 'next day':
      return `next day at ${timing.time}`;
    case 'weekday':
      return `that ${WEEKDAYS[timing.weekday - 1]!} at ${timing.time}`;
    case 'next week':
      return `next week at ${timing.time}`;
    case 'next month':
      return `next month at ${timing.time}`;
    case 'date':
      return `${formatShortDate(timing.local)} at ${formatClock(timing.local)}`;
  }
}
