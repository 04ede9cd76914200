import type { Shape } from '../picture/picture.js';
import type { PieceKind } from './piece.js';

/** The alternative text of a card: what it is, and the words on it. */
export const cardAlt = ({ kind, shape, words }: { kind: PieceKind; shape: Shape; words: string }): string =>
  kind === 'quote card'
    ? `A ${shape} card with a quotation: ${words}`
    : `A ${shape} card with the words “${words}”.`;

/** The alternative text after the words on the card changed: what spoke of the old ones speaks of the new. */
export const altAfter = (alt: string, before: string, after: string): string =>
  before !== '' && alt.includes(before) ? alt.replace(before, () => after) : alt;
