import { type Signal } from './signals.js';
import { WEIGHTS } from './titles.js';

/**
 * Ahead of what share of these scores, 0 to 1; equal ones count half (the percentile rank). Null when there
 * are none.
 */
export function aheadOf(score: number, scores: readonly number[]): number | null {
  if (scores.length === 0) return null;
  let below = 0;
  for (const s of scores) below += s < score - 1e-9 ? 1 : s <= score + 1e-9 ? 0.5 : 0;
  return below / scores.length;
}

/** A published title with its signals and how often its post was read. */
export interface MeasuredTitle {
  signals: readonly Signal[];
  reads: number;
}

/** How titles like one did: medians of reads, of those like it and of all. */
export interface LikeTitles {
  count: number;
  reads: number;
  all: number;
}

/** Fewer measured posts say more about chance than about titles. */
export const FEWEST_MEASURED = 50;

/** So many neighbours are asked. */
const NEIGHBOURS = 15;

/** How the titles that are measured most alike did here; null with fewer than 50 measured posts. */
export function titlesLikeIt(
  signals: readonly Signal[],
  measured: readonly MeasuredTitle[],
): LikeTitles | null {
  if (measured.length < FEWEST_MEASURED) return null;
  const counted = (list: readonly Signal[]) =>
    list.filter((s) => WEIGHTS[s.key] > 0).map((s) => s.score * WEIGHTS[s.key]);
  const own = counted(signals);
  const apart = (m: MeasuredTitle) => counted(m.signals).reduce((sum, v, i) => sum + (v - own[i]!) ** 2, 0);
  const near = measured
    .map((m) => ({ reads: m.reads, d: apart(m) }))
    .sort((a, b) => a.d - b.d)
    .slice(0, NEIGHBOURS);
  return {
    count: near.length,
    reads: median(near.map((n) => n.reads)),
    all: median(measured.map((m) => m.reads)),
  };
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}
