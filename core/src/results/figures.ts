/** What readers of an outlet did with a piece so far. */
export interface PieceFigures {
  seen: number;
  passedOn: number;
  replies: number;
  clicks: number;
}

/** More of anything than this is no figure. */
const MAX_FIGURE = 2_000_000_000;

const count = (value: unknown): number | null =>
  value === undefined || value === null
    ? 0
    : typeof value === 'number' && Number.isInteger(value) && value >= 0 && value <= MAX_FIGURE
      ? value
      : null;

/**
 * Reads the figures in what an outlet answers at the address of a piece: JSON with an object `figures` of whole numbers
 * `views`, `passedOn`, `replies` and `clicks`, missing ones being 0. Null where there are none.
 */
export function readFigures(answer: string): PieceFigures | null {
  let said: unknown;
  try {
    said = (JSON.parse(answer) as { figures?: unknown } | null)?.figures;
  } catch {
    return null;
  }
  if (typeof said !== 'object' || said === null || Array.isArray(said)) return null;
  const { views, passedOn, replies, clicks } = said as Record<string, unknown>;
  const found = [count(views), count(passedOn), count(replies), count(clicks)];
  if (found.some((n) => n === null)) return null;
  const [seen, passed, answered, clicked] = found as [number, number, number, number];
  return { seen, passedOn: passed, replies: answered, clicks: clicked };
}

/**
 * How often an outlet is asked about a piece: until it is so many hours old, every so many hours; often at first, and
 * at last never.
 */
export const ASKED_EVERY = [
  { untilHours: 24, hours: 1 },
  { untilHours: 7 * 24, hours: 6 },
  { untilHours: 60 * 24, hours: 24 },
] as const;
