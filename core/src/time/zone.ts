import { Temporal } from 'temporal-polyfill';

/** A wall-clock time without a zone: `YYYY-MM-DDTHH:mm:ss`. */
export type WallTime = string;
/** An instant as RFC 3339 in UTC: `YYYY-MM-DDTHH:mm:ssZ`. */
export type Instant = string;

/** What a wall time means in a zone. `choices` are local times with their offset, earlier first. */
export type WallMeaning =
  | { kind: 'exact'; local: WallTime; at: Instant }
  | { kind: 'gap'; choices: [ZonedChoice, ZonedChoice] }
  | { kind: 'doubled'; choices: [ZonedChoice, ZonedChoice] };

export interface ZonedChoice {
  local: WallTime;
  /** `+01:00`; with `local` it names one instant. */
  offset: string;
  at: Instant;
}

const WALL = /^(\d{4}-\d{2}-\d{2})[T ](\d{2}:\d{2})(?::(\d{2}))?(Z|[+-]\d{2}:\d{2})?$/;

/** Is this the name of a zone in the IANA database that this machine knows? */
export function isZone(zone: string): boolean {
  try {
    Temporal.Instant.fromEpochMilliseconds(0).toZonedDateTimeISO(zone);
    return !/^[+-]/.test(zone);
  } catch {
    return false;
  }
}

/**
 * The meaning of `text` in `zone`. `text` is a wall time (`2026-10-25T01:30`, seconds optional) or one with
 * an offset or Z; with an offset a doubled time is decided, and any instant is turned into the zone's wall
 * time.
 * Returns null when the text is no date and time at all.
 */
export function meaningOf(text: string, zone: string): WallMeaning | null {
  const parts = WALL.exec(text.trim());
  if (!parts) return null;
  const [, day, clock, seconds = '00', offset] = parts;
  const local = `${day}T${clock}:${seconds}`;
  try {
    if (offset) {
      const zoned = Temporal.Instant.from(`${local}${offset}`).toZonedDateTimeISO(zone);
      return { kind: 'exact', local: wallOf(zoned), at: instantOf(zoned) };
    }
    const plain = Temporal.PlainDateTime.from(local);
    const earlier = plain.toZonedDateTime(zone, { disambiguation: 'earlier' });
    const later = plain.toZonedDateTime(zone, { disambiguation: 'later' });
    if (earlier.epochMilliseconds === later.epochMilliseconds) {
      return { kind: 'exact', local: wallOf(earlier), at: instantOf(earlier) };
    }
    if (earlier.toPlainDateTime().equals(plain)) {
      return { kind: 'doubled', choices: [choiceOf(earlier), choiceOf(later)] };
    }
    // In a gap the two nearest wall times that exist are the last minute before it and the first after it.
    const transition = earlier.getTimeZoneTransition('next') ?? later;
    return { kind: 'gap', choices: [choiceOf(transition.subtract({ minutes: 1 })), choiceOf(transition)] };
  } catch {
    return null;
  }
}

/** The wall time that an instant has in a zone. */
export function wallTimeOf(at: Instant, zone: string): WallTime {
  return wallOf(Temporal.Instant.from(at).toZonedDateTimeISO(zone));
}

/** The calendar date (`YYYY-MM-DD`) of an instant in a zone. */
export function dateOf(at: Instant, zone: string): string {
  return wallTimeOf(at, zone).slice(0, 10);
}

const DAY_MS = 86_400_000;

/**
 * Remembers so many answers of a function of one value; planning asks for the same few hundred days tens of
 * thousands of times.
 */
function remembered<K, V>(of: (key: K) => V, max = 10_000): (key: K) => V {
  const known = new Map<K, V>();
  return (key) => {
    let value = known.get(key);
    if (value === undefined) {
      value = of(key);
      if (known.size >= max) known.clear();
      known.set(key, value);
    }
    return value;
  };
}

/** Days from 1970-01-01 to a date `YYYY-MM-DD`. Throws RangeError for what is not written like one. */
export const dayNumber = remembered((date: string): number => {
  const at = Date.UTC(Number(date.slice(0, 4)), Number(date.slice(5, 7)) - 1, Number(date.slice(8, 10)));
  if (Number.isNaN(at)) throw new RangeError(`“${date}” is not a date.`);
  return at / DAY_MS;
});

const dateOfDay = remembered((day: number): string => new Date(day * DAY_MS).toISOString().slice(0, 10));

export function addDays(date: string, days: number): string {
  return dateOfDay(dayNumber(date) + days);
}

/** Whole days from `a` to `b`, negative when b is earlier. */
export function daysBetween(a: string, b: string): number {
  return dayNumber(b) - dayNumber(a);
}

/** Is this text a real calendar date `YYYY-MM-DD`? */
export function isDate(text: string): boolean {
  try {
    return (
      /^\d{4}-\d{2}-\d{2}$/.test(text) &&
      Temporal.PlainDate.from(text, { overflow: 'reject' }).toString() === text
    );
  } catch {
    return false;
  }
}

function wallOf(zoned: Temporal.ZonedDateTime): WallTime {
  return zoned.toPlainDateTime().toString({ smallestUnit: 'second' });
}
export function instantOf(zoned: Temporal.ZonedDateTime): Instant {
  return zoned.toInstant().toString({ smallestUnit: 'second' });
}
function choiceOf(zoned: Temporal.ZonedDateTime): ZonedChoice {
  return { local: wallOf(zoned), offset: zoned.offset, at: instantOf(zoned) };
}

/**
 * Is instant `a` later than instant `b`? Compared as moments: with and without fractions, their texts sort
 * wrongly.
 */
export function isLater(a: Instant, b: Instant): boolean {
  return Date.parse(a) > Date.parse(b);
}
