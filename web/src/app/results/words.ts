import type { OutletLine, ShareLine, TotalLine } from '@keyroster/contract';
import { formatHour, type Verdict } from '@keyroster/core';

export const figure = (n: number): string => Math.round(n).toLocaleString('en-GB');
const percent = (share: number): string => `${(100 * share).toFixed(share < 0.1 ? 1 : 0)}%`;

/** A share, and where it lies. */
export const shareWords = (line: ShareLine | null): string =>
  line ? `${percent(line.share)} (${percent(line.low)} to ${percent(line.high)})` : '';

/** How a figure stands beside the one before. */
export function changeWords({ value, before }: TotalLine): string {
  if (before === 0) return value === 0 ? '' : 'none before';
  const change = Math.round((100 * (value - before)) / before);
  return `${change > 0 ? '+' : change < 0 ? '−' : '±'}${figure(Math.abs(change))}%, ${figure(before)} before`;
}

/** What can be said of the days of a span beside those before. */
export const SPAN_VERDICTS: Readonly<Record<Verdict, string>> = {
  more: 'Daily reads rose compared with the period before; this is statistically clear.',
  less: 'Daily reads fell compared with the period before; this is statistically clear.',
  alike: 'No clear difference from the period before.',
  'too few': 'Too few days to compare with the period before.',
};

/** What the lengths of titles have to do with how posts did. */
export function lengthWords(correlation: number | null): string {
  if (correlation === null) return 'Too few posts to tell whether longer titles do better.';
  const size = Math.abs(correlation);
  const measured = `(rank correlation ${correlation.toFixed(2)})`;
  if (size < 0.3) return `Whether a title is long or short has little to do with it ${measured}.`;
  return `${correlation > 0 ? 'Longer' : 'Shorter'} titles did ${size < 0.6 ? 'somewhat' : 'clearly'} better ${measured}.`;
}

/** With fewer pieces no hour can stand out: each would need six of its own, and the others as many. */
const MIN_PIECES = 12;

/** Which hours did better at an outlet, if any. */
export function hoursWords({ bestHours, pieces }: Pick<OutletLine, 'bestHours' | 'pieces'>): string {
  if (bestHours.length > 0) return `seen most at ${bestHours.map((h) => formatHour(h.hour)).join(', ')}`;
  return pieces < MIN_PIECES ? 'too few pieces to compare hours' : 'no hour is clearly better';
}
