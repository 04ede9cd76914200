import type { Shape } from '../picture/picture.js';
import { lengthOf, type LengthLimit } from './length.js';

export const OUTLET_KINDS = [
  'short-post network',
  'picture network',
  'professional network',
  'newsletter',
  'partner site',
  'shop’s news page',
  'special',
] as const;
export type OutletKind = (typeof OUTLET_KINDS)[number];

/**
 * How pieces reach an outlet: posted by Micropub, mailed by SMTP, fetched as a feed (and announced by
 * WebSub), or sent by a signed webhook.
 */
export const OUTLET_PROTOCOLS = ['micropub', 'mail', 'feed', 'webhook'] as const;
export type OutletProtocol = (typeof OUTLET_PROTOCOLS)[number];

/** What an outlet takes. */
export interface OutletLimits {
  length: LengthLimit | null;
  links: boolean;
  tags: number;
  shapes: readonly Shape[];
  /** Of a picture, in bytes; null: no limit. */
  pictureBytes: number | null;
  /** Pieces in any hour, and in any day. */
  perHour: number | null;
  perDay: number | null;
  /** Wall times between which nothing is sent: `{ from: '22:00', until: '07:00' }`. */
  quiet: { from: string; until: string } | null;
}

const length = (max: number): LengthLimit => ({ max, unit: 'graphemes', linkCost: null });
const all: readonly Shape[] = ['landscape', 'square', 'portrait'];
const quiet = { from: '22:00', until: '07:00' };

/** What is proposed for a new outlet of each kind. */
export const USUAL_LIMITS: Record<OutletKind, OutletLimits> = {
  'short-post network': {
    length: length(300),
    links: true,
    tags: 3,
    shapes: all,
    pictureBytes: 1_000_000,
    perHour: 3,
    perDay: 12,
    quiet,
  },
  'picture network': {
    length: length(2200),
    links: false,
    tags: 10,
    shapes: all,
    pictureBytes: 8_000_000,
    perHour: 2,
    perDay: 6,
    quiet,
  },
  'professional network': {
    length: length(3000),
    links: true,
    tags: 5,
    shapes: ['landscape', 'square'],
    pictureBytes: 5_000_000,
    perHour: 1,
    perDay: 3,
    quiet: { from: '19:00', until: '07:00' },
  },
  newsletter: {
    length: null,
    links: true,
    tags: 0,
    shapes: ['landscape'],
    pictureBytes: 1_000_000,
    perHour: null,
    perDay: 1,
    quiet: null,
  },
  'partner site': {
    length: null,
    links: true,
    tags: 20,
    shapes: all,
    pictureBytes: null,
    perHour: null,
    perDay: null,
    quiet: null,
  },
  'shop’s news page': {
    length: length(1500),
    links: true,
    tags: 10,
    shapes: ['landscape', 'square'],
    pictureBytes: 2_000_000,
    perHour: null,
    perDay: 4,
    quiet: null,
  },
  special: {
    length: null,
    links: true,
    tags: 20,
    shapes: all,
    pictureBytes: null,
    perHour: null,
    perDay: null,
    quiet: null,
  },
};

/** A piece as the checks of its outlet see it. */
export interface PieceContent {
  subject: string;
  parts: readonly string[];
  tags: readonly string[];
  alt: string;
  pictures: readonly { alt: string; bytes: number | null; shape: Shape | null }[];
}

/** One thing an outlet would refuse or readers would miss; `blocks` keeps the piece from being sent. */
export interface PieceError {
  blocks: boolean;
  sentence: string;
}

/** What keeps a piece from its outlet, or should be fixed, in sentences. */
export function pieceErrors(piece: PieceContent, limits: OutletLimits, outlet: string): PieceError[] {
  const errors: PieceError[] = [];
  const add = (blocks: boolean, sentence: string) => errors.push({ blocks, sentence });
  if (piece.parts.every((p) => p.trim() === '')) add(true, 'It says nothing yet.');
  if (limits.length) {
    for (const [i, part] of piece.parts.entries()) {
      const n = lengthOf(part, limits.length);
      if (n > limits.length.max)
        add(
          true,
          `${piece.parts.length > 1 ? `Part ${i + 1} is` : 'It is'} ${n - limits.length.max} ` +
            `${limits.length.unit} longer than ${outlet} takes.`,
        );
    }
  }
  if (!limits.links && piece.parts.some((p) => /https?:\/\//.test(p)))
    add(false, `${outlet} does not make links of addresses; readers would see it as plain words.`);
  if (piece.tags.length > limits.tags)
    add(
      limits.tags > 0,
      limits.tags === 0 ? `${outlet} shows no tags.` : `${outlet} takes ${limits.tags} tags at most.`,
    );
  for (const picture of piece.pictures) {
    if (picture.alt.trim() === '')
      add(true, 'A picture has no alternative text, so some readers would miss it.');
    if (picture.shape && !limits.shapes.includes(picture.shape))
      add(true, `${outlet} does not take ${picture.shape} pictures.`);
    if (picture.bytes !== null && limits.pictureBytes !== null && picture.bytes > limits.pictureBytes)
      add(true, `A picture is heavier than ${outlet} takes.`);
  }
  return errors;
}
