import { absenceOn, type Absence } from '../planning/load.js';
import { addDays, daysBetween } from '../time/zone.js';
import type { ProposalWriter } from './problem.js';

/** By when a post has to be where, so that it can run on its date. All dates `YYYY-MM-DD`. */
export interface Deadlines {
  /** Copy, from the writer. */
  copy: string;
  /** Cleared, by an editor. */
  cleared: string;
}

/** What deadlines are reckoned from. */
export interface DeadlineContext {
  today: string;
  absences: readonly Absence[];
  review: { days: number };
  clearedBy: string | null;
}

/** The last day, not after `date`, on which somebody is there; null when they are away since today. */
function lastDayThere(
  absences: readonly Absence[],
  personId: number,
  date: string,
  today: string,
): string | null {
  let day = date;
  for (let away = absenceOn(absences, personId, day); away; away = absenceOn(absences, personId, day)) {
    day = addDays(away.from, -1);
    if (day < today) return null;
  }
  return day >= today ? day : null;
}

/** Days from tomorrow to `to`, both inclusive, on which somebody is there. */
export function daysThere(absences: readonly Absence[], personId: number, today: string, to: string): number {
  let days = Math.max(0, daysBetween(today, to));
  for (const a of absences) {
    if (a.personId !== personId) continue;
    const from = a.from > today ? a.from : addDays(today, 1);
    const until = a.to < to ? a.to : to;
    if (until >= from) days -= daysBetween(from, until) + 1;
  }
  return days;
}

/**
 * The deadlines of a post that is commissioned today and runs on `date`: cleared the day before (or by
 * `clearedBy`, when that is earlier), its copy as many days before that as a review takes, on a day on which
 * the writer is there. Null when the days on which the writer is there do not suffice for the time that they
 * usually take.
 */
export function deadlinesOf(
  writer: Pick<ProposalWriter, 'id' | 'leadTime'>,
  date: string,
  { today, absences, review, clearedBy }: DeadlineContext,
): Deadlines | null {
  const before = addDays(date, -1);
  const cleared = clearedBy !== null && clearedBy < before ? clearedBy : before;
  const copy = lastDayThere(absences, writer.id, addDays(cleared, -review.days), today);
  if (copy === null || daysThere(absences, writer.id, today, copy) < writer.leadTime.days) return null;
  return { copy, cleared };
}
