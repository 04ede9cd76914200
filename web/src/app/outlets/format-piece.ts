import type { PieceView, SendState } from '@keyroster/contract';
import { formatClock, formatShortDate, type LengthUnit } from '@keyroster/core';

export const capital = (words: string) => `${words[0]!.toUpperCase()}${words.slice(1)}`;

const STATES: Record<SendState, string> = {
  waiting: 'approved',
  sending: 'being sent',
  sent: 'sent',
  unsure: 'may have been sent',
  failed: 'not sent',
  stopped: 'stopped',
};
/** How far a piece is, in two words. */
export const formatState = (piece: Pick<PieceView, 'send'>): string =>
  piece.send ? STATES[piece.send.state] : 'to be approved';
export const formatSendState = (state: SendState | 'draft'): string =>
  state === 'draft' ? 'to be approved' : STATES[state];

/** What a length is counted in, in a word that people know. */
export const unitName = (unit: LengthUnit): string => (unit === 'graphemes' ? 'characters' : unit);

export const formatDue = (local: string | null, today: string): string =>
  local ? `${formatShortDate(local, today)} ${formatClock(local)}` : 'when the post has a run time';
