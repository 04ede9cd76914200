import { median, medianRanks } from '../titles/like-titles.js';

/** Between these lies what is measured, with 95% certainty. */
export type Interval = readonly [low: number, high: number];

/** The 97.5% point of the normal distribution. */
const Z = 1.959963984540054;

/**
 * Where a share lies that came out as `k` of `n`: Wilson's score interval (Wilson, “Probable inference, the law of
 * succession, and statistical inference”, JASA 22, 1927). Null without a single trial.
 */
export function shareInterval(k: number, n: number): Interval | null {
  if (n <= 0) return null;
  const share = k / n;
  const middle = share + (Z * Z) / (2 * n);
  const reach = Z * Math.sqrt((share * (1 - share)) / n + (Z * Z) / (4 * n * n));
  const scale = 1 + (Z * Z) / n;
  return [Math.max(0, (middle - reach) / scale), Math.min(1, (middle + reach) / scale)];
}

/** The median of some values, and the interval it lies in; null with fewer than six, which tell nothing. */
export function medianInterval(values: readonly number[]): Interval | null {
  const sorted = [...values].sort((a, b) => a - b);
  const ranks = medianRanks(sorted.length);
  return ranks && [sorted[ranks[0] - 1]!, sorted[ranks[1] - 1]!];
}

/** Ranks from one on; equal values share the mean of theirs. */
function ranksOf(values: readonly number[]): number[] {
  const order = values.map((_, i) => i).sort((a, b) => values[a]! - values[b]!);
  const ranks = new Array<number>(values.length);
  for (let from = 0; from < order.length;) {
    let to = from;
    while (to < order.length && values[order[to]!] === values[order[from]!]) to++;
    for (let i = from; i < to; i++) ranks[order[i]!] = (from + to + 1) / 2;
    from = to;
  }
  return ranks;
}

/** How far two things rise together, from -1 to 1, whatever their scales (Spearman). Null where one never changes. */
export function rankCorrelation(xs: readonly number[], ys: readonly number[]): number | null {
  const [a, b] = [ranksOf(xs), ranksOf(ys)];
  const middle = (xs.length + 1) / 2;
  const sum = (f: (i: number) => number) => xs.reduce((total, _, i) => total + f(i), 0);
  const both = sum((i) => (a[i]! - middle) * (b[i]! - middle));
  const spread = Math.sqrt(sum((i) => (a[i]! - middle) ** 2) * sum((i) => (b[i]! - middle) ** 2));
  return spread === 0 ? null : both / spread;
}

export { median };
