import { formOfTitle, type TitleForm } from './title-form.js';

/** A published title and how often its post was read in its first days. */
export interface ReadTitle {
  title: string;
  reads: number;
}

/** How published titles of a form did here. */
export interface FormResult {
  form: TitleForm;
  /** So many published posts have such a title, and figures. */
  count: number;
  /** The median of their reads, and the interval it lies in with at least 95% certainty; null with too few. */
  median: number | null;
  interval: readonly [low: number, high: number] | null;
  /** The median of all published posts with figures, and how many those are. */
  all: number | null;
  allCount: number;
  /** `above` and `below` when the interval leaves the median of all out; else it may be chance. */
  verdict: 'above' | 'below' | 'no difference' | 'too few';
}

/** The middle value; the mean of the two in the middle of an even number. */
export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}

/**
 * Ranks, from 1, between which the median of `n` independent values lies with at least 95% certainty, whatever their
 * distribution: the sign test turned round (W. J. Conover, Practical Nonparametric Statistics, section 3.2). Null below
 * six values, where no two ranks are enough.
 */
export function medianRanks(n: number): readonly [low: number, high: number] | null {
  // The chance that at most k of n values lie below the median. By logarithms: of 1,075 values on, the chance that
  // none does is less than any number but 0.
  let logTerm = n * Math.log(0.5);
  let sum = Math.exp(logTerm);
  let low = 0;
  for (let k = 1; sum <= 0.025 && k <= n; k++) {
    low = k;
    logTerm += Math.log((n - k + 1) / k);
    sum += Math.exp(logTerm);
  }
  return low === 0 ? null : [low, n + 1 - low];
}

/** How titles of this one's form did on this blog. */
export function howTitlesDid(form: TitleForm, published: readonly ReadTitle[]): FormResult {
  const reads = published
    .filter((p) => formOfTitle(p.title) === form)
    .map((p) => p.reads)
    .sort((a, b) => a - b);
  const ranks = medianRanks(reads.length);
  const all = published.length > 0 ? median(published.map((p) => p.reads)) : null;
  const known = { form, count: reads.length, all, allCount: published.length };
  if (ranks === null || all === null) return { ...known, median: null, interval: null, verdict: 'too few' };
  const [low, high] = [reads[ranks[0] - 1]!, reads[ranks[1] - 1]!];
  return {
    ...known,
    median: median(reads),
    interval: [low, high],
    verdict: low > all ? 'above' : high < all ? 'below' : 'no difference',
  };
}
