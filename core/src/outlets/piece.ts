import type { Shape } from '../picture/picture.js';
import type { RankedSource } from './choose.js';
import type { OutletLimits } from './outlet.js';

/** What can be made from a post. */
export const PIECE_KINDS = [
  'short post',
  'thread',
  'picture card',
  'gallery',
  'professional post',
  'newsletter item',
  'newsletter letter',
  'digest',
  'quote card',
  'checklist',
  'question',
  'video caption',
] as const;
export type PieceKind = (typeof PIECE_KINDS)[number];

/** Kinds that are drawn, and need a style and a shape. */
export const DRAWN_KINDS: readonly PieceKind[] = ['picture card', 'quote card'];

export interface PieceAsk {
  kind: PieceKind;
  outlet: { name: string; limits: OutletLimits };
  /** In words: who it is for, what to stress, how long, tone, with or without link. */
  instruction: string;
  shape: Shape;
  /** Earlier versions of the piece: another one is to be truly different. */
  earlier?: readonly { used: readonly number[]; parts: readonly string[]; words: string }[];
  /** The sentences a person has shaded; null: the engine chooses. */
  only?: readonly number[] | null;
  /** A digest's other posts. */
  others?: readonly RankedSource[];
}

/** A piece as the engine makes it. */
export interface MadePiece {
  /** Subject line of a letter, heading of an item, title of a video; '' where the kind has none. */
  subject: string;
  /** A thread and a gallery have several. */
  parts: string[];
  /** Drawn on the card; '' for kinds that are not drawn. */
  words: string;
  /** Alternative text of the card. */
  alt: string;
  tags: string[];
  /** Which sentences of the post it is built from, by index. */
  used: number[];
  /** What the instruction asked for and did not get, in sentences. */
  remarks: string[];
}

/** The texts that go out: a gallery's captions together under its pictures, a thread's parts one by one. */
export const sentTexts = (kind: PieceKind, parts: readonly string[]): string[] =>
  kind === 'gallery' ? [parts.join('\n\n')] : [...parts];

export type MakeAnswer = { ok: true; piece: MadePiece } | { ok: false; sentence: string };
