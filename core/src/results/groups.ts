import { medianInterval, median, type Interval } from './statistics.js';

/**
 * What can be said of a group beside all others: more or less where their intervals lie apart; alike where they do not,
 * so that the difference may be chance; too few where the group has too few for an interval at all.
 */
export type Verdict = 'more' | 'less' | 'alike' | 'too few';

export const VERDICT_NAMES: Readonly<Record<Verdict, string>> = {
  more: 'more than the others',
  less: 'less than the others',
  alike: 'no clear difference',
  'too few': 'too few to tell',
};

export interface GroupResult<K> {
  key: K;
  count: number;
  median: number;
  interval: Interval | null;
  verdict: Verdict;
}

export function verdictOf(one: Interval | null, other: Interval | null): Verdict {
  if (!one || !other) return 'too few';
  if (one[0] > other[1]) return 'more';
  return one[1] < other[0] ? 'less' : 'alike';
}

/** Sums up values by group, each held against all that are not in it; the best first, those too few last. */
export function groupResults<T, K>(
  rows: readonly T[],
  keysOf: (row: T) => readonly K[],
  valueOf: (row: T) => number,
): GroupResult<K>[] {
  const groups = new Map<K, T[]>();
  for (const row of rows)
    for (const key of keysOf(row)) {
      const known = groups.get(key);
      if (known) known.push(row);
      else groups.set(key, [row]);
    }
  return [...groups]
    .map(([key, own]) => {
      const inside = new Set(own);
      const values = own.map(valueOf);
      const others = rows.filter((row) => !inside.has(row)).map(valueOf);
      const interval = medianInterval(values);
      return {
        key,
        count: own.length,
        median: median(values),
        interval,
        verdict: verdictOf(interval, medianInterval(others)),
      };
    })
    .sort(
      (a, b) =>
        Number(a.interval === null) - Number(b.interval === null) || b.median - a.median || b.count - a.count,
    );
}
