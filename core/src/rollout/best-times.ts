import { formatHour } from '../time/format.js';
import type { WallTime } from '../time/zone.js';
import { dueOf, formatTiming, type Timing } from './timing.js';

/** Hours of the day in which the pieces of an outlet do better than in others, the best first. */
export interface OutletHours {
  outletId: number;
  outlet: string;
  hours: readonly { hour: number; count: number }[];
}

/** A piece whose time can still be moved. */
export interface TimedPiece {
  id: number;
  kind: string;
  outletId: number;
  timing: Timing;
}

export interface BetterTime {
  pieceId: number;
  timing: Timing;
  sentence: string;
}

/** A time of day at which something does best and that is not past on that day; null: there is none. */
function timingAt(timing: Timing, hour: number, release: WallTime | null): Timing | null {
  const time = formatHour(hour);
  switch (timing.kind) {
    // With the release, or soon after it, is meant so.
    case 'same hour':
      return null;
    case 'same day':
      return release !== null && release.slice(11, 16) > time ? null : { ...timing, time };
    case 'date':
      return { kind: 'date', local: `${timing.local.slice(0, 10)}T${time}:00` };
    default:
      return { ...timing, time };
  }
}

const hourOf = (timing: Timing, release: WallTime | null): number | null => {
  if (timing.kind === 'date') return Number(timing.local.slice(11, 13));
  if (timing.kind === 'same hour') return null;
  return Number((release === null ? timing.time : dueOf(timing, release).slice(11, 13)).slice(0, 2));
};

/**
 * Times at which pieces would do better, as their outlets' figures tell: the same day, at the best hour of the outlet.
 * Left alone is what is at one of these hours already, and what goes with the release. `release` is the wall time of
 * the post's; null while it has none. `now`, by the blog's clock: no time that has passed is proposed.
 */
export function betterTimes(
  pieces: readonly TimedPiece[],
  outlets: readonly OutletHours[],
  { release, now }: { release: WallTime | null; now: WallTime },
): BetterTime[] {
  return pieces.flatMap((piece): BetterTime[] => {
    const outlet = outlets.find((o) => o.outletId === piece.outletId);
    const hour = hourOf(piece.timing, release);
    if (!outlet || hour === null || outlet.hours.some((h) => h.hour === hour)) return [];
    for (const best of outlet.hours) {
      const timing = timingAt(piece.timing, best.hour, release);
      if (timing === null) continue;
      const due = timing.kind === 'date' ? timing.local : release === null ? null : dueOf(timing, release);
      if (due !== null && due <= now) continue;
      const sentence =
        `${piece.kind[0]!.toUpperCase()}${piece.kind.slice(1)} for ${outlet.outlet}, ` +
        `${formatTiming(piece.timing)}: seen most at ${formatHour(best.hour)} (${best.count} pieces).`;
      return [{ pieceId: piece.id, timing, sentence }];
    }
    return [];
  });
}
