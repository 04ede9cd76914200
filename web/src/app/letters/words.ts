import type { LetterCounts, LetterState } from '@keyroster/contract';
import { formatCount } from '@keyroster/core';

export const STATE_NAMES: Readonly<Record<LetterState, string>> = {
  draft: 'draft',
  sending: 'on its way',
  stopped: 'stopped',
  sent: 'sent',
};

/** How many of all have it. */
export const deliveredOf = ({ sent, waiting, failed, undelivered, unsure, left }: LetterCounts): string => {
  const all = sent + waiting + failed + undelivered + unsure + left;
  return sent === all ? formatCount(sent, 'subscriber') : `${sent} of ${formatCount(all, 'subscriber')}`;
};

/** A share of those who got it, in whole percent; nothing where nobody got it. */
export const shareOf = (n: number, sent: number): string =>
  sent === 0 ? '' : `${Math.round((100 * n) / sent)}%`;
