import { formatClock, formatShortDate } from '../time/format.js';
import type { WallTime } from '../time/zone.js';
import type { OutletLimits } from '../outlets/outlet.js';
import { laterBy } from './timing.js';

/** A piece that is to go out, or went out. */
export interface Due {
  id: number;
  outletId: number;
  local: WallTime;
  /** Gone already: it counts, and stays where it is. */
  sent?: boolean;
  /** Another's to move: it counts, stays where it is, and must not be crowded. */
  fixed?: boolean;
}

export interface Clash {
  pieceId: number;
  what: 'hour' | 'day' | 'quiet';
  sentence: string;
}

export type Pace = Pick<OutletLimits, 'perHour' | 'perDay' | 'quiet'>;
export interface PacedOutlet {
  id: number;
  name: string;
  limits: Pace;
}

/** Is a time of day within the quiet hours, which may reach over midnight? The end is not within. */
export function isQuiet(local: WallTime, quiet: Pace['quiet']): boolean {
  if (!quiet) return false;
  const time = local.slice(11, 16);
  return quiet.from <= quiet.until
    ? time >= quiet.from && time < quiet.until
    : time >= quiet.from || time < quiet.until;
}

/** In order of time; of those at one time what is sent was first. */
const inOrder = (a: Due, b: Due) =>
  a.local < b.local
    ? -1
    : a.local > b.local
      ? 1
      : Number(b.sent ?? false) - Number(a.sent ?? false) || a.id - b.id;

const HOUR = 60;
/** How many of these times lie in the hour that ends with this one, itself not counted. */
const within = (times: readonly WallTime[], local: WallTime) =>
  times.filter((t) => t <= local && t > laterBy(local, -HOUR)).length;

/**
 * Pieces that go out in quiet hours, or while an outlet has had as many in the hour or the day as it takes.
 */
export function clashes(due: readonly Due[], outlets: readonly PacedOutlet[]): Clash[] {
  const found: Clash[] = [];
  for (const { id, name, limits } of outlets) {
    const before: WallTime[] = [];
    for (const piece of due.filter((d) => d.outletId === id).sort(inOrder)) {
      const when = `${formatShortDate(piece.local)} ${formatClock(piece.local)}`;
      if (!piece.sent) {
        if (isQuiet(piece.local, limits.quiet))
          found.push({
            pieceId: piece.id,
            what: 'quiet',
            sentence:
              `${when} is within the quiet hours of ${name} (${limits.quiet!.from} to ` +
              `${limits.quiet!.until}).`,
          });
        else if (limits.perHour !== null && within(before, piece.local) >= limits.perHour)
          found.push({
            pieceId: piece.id,
            what: 'hour',
            sentence: `${name} takes ${limits.perHour} in an hour, and has as many at ${when}.`,
          });
        else if (
          limits.perDay !== null &&
          before.filter((t) => t.slice(0, 10) === piece.local.slice(0, 10)).length >= limits.perDay
        )
          found.push({
            pieceId: piece.id,
            what: 'day',
            sentence: `${name} takes ${limits.perDay} in a day, and has as many on ${formatShortDate(piece.local)}.`,
          });
      }
      before.push(piece.local);
    }
  }
  return found;
}

/** How finely, and how far, a free time is looked for. */
const STEP = 5;
const MAX_STEPS = (60 * 24 * 60) / STEP;

/**
 * Moves pieces that clash to the next time at which they do not, in their order, each at its own outlet;
 * those that are well where they are stay. Returns the times of those that move; those for which no time is
 * free within sixty days are left out.
 */
export function spreadOut(due: readonly Due[], outlets: readonly PacedOutlet[]): Map<number, WallTime> {
  const moved = new Map<number, WallTime>();
  for (const { id, limits } of outlets) {
    const taken = due.filter((d) => d.outletId === id && (d.sent || d.fixed)).map((d) => d.local);
    const placed = due.filter((d) => d.outletId === id && d.fixed && !d.sent).map((d) => d.local);
    const onDay = (times: readonly WallTime[], t: WallTime) =>
      times.filter((o) => o <= t && o.slice(0, 10) === t.slice(0, 10)).length;
    // A piece put in must not crowd those that come after it; what is sent already cannot be crowded any
    // more.
    const free = (local: WallTime) =>
      !isQuiet(local, limits.quiet) &&
      (limits.perHour === null ||
        [local, ...placed.filter((t) => t >= local && t < laterBy(local, HOUR))].every(
          (t) => within([...taken, local], t) <= limits.perHour!,
        )) &&
      (limits.perDay === null ||
        [local, ...placed.filter((t) => t >= local && t.slice(0, 10) === local.slice(0, 10))].every(
          (t) => onDay([...taken, local], t) <= limits.perDay!,
        ));
    for (const piece of due.filter((d) => d.outletId === id && !d.sent && !d.fixed).sort(inOrder)) {
      let local = piece.local;
      let steps = 0;
      while (!free(local) && steps < MAX_STEPS) {
        local = laterBy(local, STEP);
        steps++;
      }
      if (steps === MAX_STEPS) continue;
      taken.push(local);
      placed.push(local);
      if (local !== piece.local) moved.set(piece.id, local);
    }
  }
  return moved;
}
