import type { Stage } from '../stages/stages.js';
import { addDays } from '../time/zone.js';
import { formatCount, formatShortDate } from '../time/format.js';

/** Days on which a person does not work; both ends inclusive, `YYYY-MM-DD`. */
export interface Absence {
  id: number;
  personId: number;
  from: string;
  to: string;
  note: string;
}

export interface LoadPost {
  runLocal: string;
  stage: Stage;
  bylineId: number | null;
}

/** How much a person has in a week against what fits. */
export interface WeekLoad {
  /** First day of the week. */
  start: string;
  /** Posts credited to the person that run in the week; withdrawn ones do not count. */
  posts: number;
  /** Posts that fit into the week after absences; null when nobody said. */
  fits: number | null;
  daysAway: number;
}

export const absenceOn = (absences: readonly Absence[], personId: number, date: string): Absence | null =>
  absences.find((a) => a.personId === personId && a.from <= date && a.to >= date) ?? null;

export function daysAway(absences: readonly Absence[], personId: number, from: string, to: string): number {
  const own = absences.filter((a) => a.personId === personId && a.from <= to && a.to >= from);
  let days = 0;
  if (own.length > 0)
    for (let date = from; date <= to; date = addDays(date, 1)) if (absenceOn(own, personId, date)) days++;
  return days;
}

/**
 * What fits into a week of which some days are away: the capacity in proportion to the days that are left,
 * rounded to the nearest post.
 */
export function fitting(capacity: number, away: number): number {
  return Math.round((capacity * (7 - away)) / 7);
}

/** A person's load in each of the weeks that begin on `starts`. */
export function weekLoads(
  person: { id: number; capacity: number | null },
  posts: readonly LoadPost[],
  absences: readonly Absence[],
  starts: readonly string[],
): WeekLoad[] {
  return starts.map((start) => {
    const end = addDays(start, 6);
    const away = daysAway(absences, person.id, start, end);
    return {
      start,
      daysAway: away,
      fits: person.capacity === null ? null : fitting(person.capacity, away),
      posts: posts.filter(
        (p) =>
          p.bylineId === person.id &&
          p.stage !== 'withdrawn' &&
          p.runLocal.slice(0, 10) >= start &&
          p.runLocal.slice(0, 10) <= end,
      ).length,
    };
  });
}

/** `2 of 3`, `2 of 0, away`, `1`. */
export function formatLoad(load: WeekLoad): string {
  const room = load.fits === null ? '' : ` of ${load.fits}`;
  const days = load.daysAway === 7 ? '' : ` ${formatCount(load.daysAway, 'day')}`;
  return `${load.posts}${room}${load.daysAway > 0 ? `,${days} away` : ''}`;
}

/** `away Mon 7 to Sun 13 Dec`. */
export function formatAbsence({ from, to }: Pick<Absence, 'from' | 'to'>, today?: string): string {
  if (from === to) return `away ${formatShortDate(from, today)}`;
  const sameMonth = from.slice(0, 7) === to.slice(0, 7);
  return (
    'away ' +
    `${sameMonth ? formatShortDate(from).replace(/ \w+$/, '') : formatShortDate(from, today)} ` +
    `to ${formatShortDate(to, today)}`
  );
}
