import { groupResults } from './groups.js';

/** A piece that went out: at which hour by the blog's clock, and how many saw it. */
export interface HourSeen {
  hour: number;
  seen: number;
}

/** Hours in which pieces did better than in the others, as far as that is more than chance; the best first. */
export function bestHours(pieces: readonly HourSeen[]): { hour: number; count: number; median: number }[] {
  return groupResults(
    pieces,
    (p) => [p.hour],
    (p) => p.seen,
  )
    .filter((g) => g.verdict === 'more')
    .map(({ key, count, median }) => ({ hour: key, count, median }));
}
