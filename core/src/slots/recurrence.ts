import { RRuleTemporal } from 'rrule-temporal';
import type { WallTime } from '../time/zone.js';

/** A recurrence in wall time: RFC 5545's DTSTART, RRULE and EXDATE without a zone. */
export interface Recurrence {
  /** The first occurrence, `YYYY-MM-DDTHH:mm:ss`. */
  start: WallTime;
  /** The value of an RRULE, like `FREQ=WEEKLY;INTERVAL=2;BYDAY=TU`. */
  rule: string;
  /** Wall times that are left out. */
  except?: readonly WallTime[];
}

/** No question of ours spans more; a rule that recurs every second is cut off rather than counted out. */
const MAX_DATES = 5_000;

/**
 * The wall times of a recurrence from `from` to `to`, both inclusive, in order (RFC 5545, section 3.3.10).
 * Wall time first: which instant each of them means is asked of the zone afterwards, so that a slot at 08:00
 * stays at 08:00 when the clocks change. Throws RangeError when the rule cannot be read.
 */
export function occurrences(recurrence: Recurrence, from: WallTime, to: WallTime): WallTime[] {
  const except = new Set(recurrence.except ?? []);
  let rule: RRuleTemporal;
  try {
    // In UTC no wall time is missing or doubled: the library counts, the zone has no say. UNTIL has to be in
    // UTC with it.
    const until = recurrence.rule.replace(/(UNTIL=\d{8}T\d{6})(?!Z)/, '$1Z');
    rule = new RRuleTemporal({
      rruleString: `DTSTART:${recurrence.start.replace(/[-:]/g, '')}Z\nRRULE:${until}`,
    });
  } catch {
    throw new RangeError(`“${recurrence.rule}” is not a recurrence rule.`);
  }
  const found: WallTime[] = [];
  rule.all((date, i) => {
    const local = date.toPlainDateTime().toString({ smallestUnit: 'second' });
    if (i >= MAX_DATES || local > to) return false;
    if (local >= from && !except.has(local)) found.push(local);
    return true;
  });
  return found;
}
