import { SHAPES, type Shape } from '../picture/picture.js';

/** Our own ways to draw a card. */
export const CARD_STYLES = ['wedge', 'wave', 'ruled', 'arch', 'stripes'] as const;
export type CardStyle = (typeof CARD_STYLES)[number];

/** Width of a text at a size of 1, in ems. The one who draws knows the letters. */
export type WidthOf = (text: string) => number;

export interface CardLine {
  text: string;
  x: number;
  /** The line's baseline. */
  y: number;
  size: number;
}

/**
 * A card as geometry: SVG shapes without text, and lines of text with their places, for a caller that has the
 * letters to draw.
 */
export interface CardDrawing {
  width: number;
  height: number;
  shapes: string;
  ink: string;
  lines: CardLine[];
  /** The blog's name. */
  foot: CardLine;
}

export interface CardAsk {
  words: string;
  foot: string;
  style: CardStyle;
  shape: Shape;
  /** One of the palettes; the category's hue leads to it, so that a category's cards look alike. */
  palette: number;
}

interface Palette {
  back: string;
  deep: string;
  accent: string;
  ink: string;
}
/** Pairs of ink and back keep at least 4.5:1, tested. */
export const PALETTES: readonly Palette[] = [
  { back: '#e1e7df', deep: '#18342e', accent: '#c98a38', ink: '#17211e' },
  { back: '#f3ead9', deep: '#5b2c1e', accent: '#2f6f73', ink: '#2a1a14' },
  { back: '#dfe6ee', deep: '#1e3557', accent: '#d1693f', ink: '#14202f' },
  { back: '#efe3e3', deep: '#5a1f35', accent: '#7c8a3a', ink: '#2b1420' },
  { back: '#e8e6da', deep: '#3b3a1f', accent: '#a2482b', ink: '#22210f' },
];

const LARGEST = 0.135;
const SMALLEST = 0.034;
const LEADING = 1.18;

interface Room {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Breaks words into lines no wider than `most` ems; null when a single word is wider. */
export function breakLines(words: string, widthOf: WidthOf, max: number): string[] | null {
  const lines: string[] = [];
  for (const unit of words.split(/(?<=\s)/u)) {
    const last = lines.at(-1);
    if (last !== undefined && widthOf((last + unit).trimEnd()) <= max) lines[lines.length - 1] = last + unit;
    else if (widthOf(unit.trimEnd()) <= max) lines.push(unit);
    else return null;
  }
  return lines.map((l) => l.trimEnd());
}

/** The largest size at which the words fill the room without leaving it, and their lines. */
function setWords(
  words: string,
  widthOf: WidthOf,
  room: Room,
  side: number,
): { size: number; lines: string[] } {
  let size = Math.round(side * LARGEST);
  for (; size > side * SMALLEST; size--) {
    const lines = breakLines(words, widthOf, room.width / size);
    if (lines && lines.length * size * LEADING <= room.height) return { size, lines };
  }
  // Of a text without spaces the signs are what can be parted.
  const signs = [...new Intl.Segmenter('und', { granularity: 'grapheme' }).segment(words)].map(
    (s) => s.segment,
  );
  const lines: string[] = [];
  for (const sign of signs) {
    if (lines.length > 0 && widthOf(lines.at(-1)! + sign) <= room.width / size)
      lines[lines.length - 1] += sign;
    else lines.push(sign);
  }
  return { size, lines: lines.slice(0, Math.max(1, Math.floor(room.height / (size * LEADING)))) };
}

type Style = (
  w: number,
  h: number,
  p: Palette,
) => { shapes: string; room: Room; ink: string; foot: 'left' | 'right'; footInk: string };

const rect = (x: number, y: number, w: number, h: number, fill: string, more = '') =>
  `<rect x="${x}" y="${y}" width="${w}" height="${h}" fill="${fill}"${more}/>`;

const STYLES: Record<CardStyle, Style> = {
  // A beam across the corner.
  wedge: (w, h, p) => {
    const m = Math.round(Math.min(w, h) * 0.08);
    return {
      shapes:
        rect(0, 0, w, h, p.back) +
        `<path d="M0 0H${w}V${h * 0.06}L0 ${h * 0.42}Z" fill="${p.deep}"/><path d="M0 ` +
        `${h * 0.42}L${w} ${h * 0.06}V${h * 0.12}L0 ${h * 0.48}Z" fill="${p.accent}"/>`,
      room: { x: m, y: h * 0.52, width: w - 2 * m, height: h * 0.34 },
      ink: p.ink,
      foot: 'right',
      footInk: p.ink,
    };
  },
  // Rings from where something fell into still water.
  wave: (w, h, p) => {
    const m = Math.round(Math.min(w, h) * 0.1);
    const rings = [0.12, 0.22, 0.34, 0.48, 0.64]
      .map(
        (r, i) =>
          `<circle cx="${w * 0.82}" cy="${h * 0.16}" r="${Math.min(w, h) * r}" fill="none" ` +
          `stroke="${p.accent}" stroke-width="${7 - i}" opacity="${0.8 - i * 0.14}"/>`,
      )
      .join('');
    return {
      shapes: rect(0, 0, w, h, p.deep) + rings,
      room: { x: m, y: h * 0.3, width: w - 2 * m, height: h * 0.52 },
      ink: '#fbfcf9',
      foot: 'left',
      footInk: '#fbfcf9',
    };
  },
  // Ruled paper with a margin line.
  ruled: (w, h, p) => {
    const m = Math.round(w * 0.14);
    const step = Math.round(h / 14);
    const rules = Array.from({ length: 13 }, (_, i) =>
      rect(0, (i + 1) * step, w, 1.5, p.deep, ' opacity=".13"'),
    ).join('');
    return {
      shapes:
        rect(0, 0, w, h, '#fbfcf9') +
        rules +
        rect(m - 24, 0, 3, h, p.accent) +
        rect(0, 0, w, step * 1.4, p.deep),
      room: { x: m, y: step * 2.6, width: w - m - Math.round(w * 0.07), height: h - step * 4.6 },
      ink: p.ink,
      foot: 'left',
      footInk: p.ink,
    };
  },
  // A wide half-round under the words.
  arch: (w, h, p) => {
    const m = Math.round(Math.min(w, h) * 0.09);
    return {
      shapes:
        rect(0, 0, w, h, p.back) +
        `<path d="M0 ${h * 0.8}H${w * 0.3}A${w * 0.2} ${h * 0.34} 0 0 1 ${w * 0.7} ` +
        `${h * 0.8}H${w}V${h}H0Z" fill="${p.deep}"/>` +
        rect(0, h * 0.8 - 5, w * 0.3, 5, p.accent) +
        rect(w * 0.7, h * 0.8 - 5, w * 0.3, 5, p.accent),
      room: { x: m, y: h * 0.09, width: w - 2 * m, height: h * 0.36 },
      ink: p.ink,
      foot: 'left',
      footInk: '#fbfcf9',
    };
  },
  // A striped post at the edge.
  stripes: (w, h, p) => {
    const post = Math.round(w * 0.12);
    const stripes = Array.from({ length: 8 }, (_, i) =>
      rect(w - post, (h / 8) * i, post, h / 16, i % 2 ? p.back : p.accent),
    ).join('');
    const m = Math.round(Math.min(w, h) * 0.09);
    return {
      shapes:
        rect(0, 0, w, h, p.back) +
        rect(w - post, 0, post, h, p.deep) +
        stripes +
        rect(m, m, Math.round(w * 0.12), 8, p.accent),
      room: { x: m, y: m + 40, width: w - post - 2 * m, height: h - 2 * m - 130 },
      ink: p.ink,
      foot: 'left',
      footInk: p.ink,
    };
  },
};

/** Draws a card: its style's shapes in the shape's pixels, and the words as large as they go. */
export function drawCard(
  { words, foot, style, shape, palette }: CardAsk,
  widthOf: WidthOf,
): CardDrawing & { footInk: string } {
  const { width, height } = SHAPES[shape];
  const side = Math.min(width, height);
  const drawn = STYLES[style](width, height, PALETTES[palette % PALETTES.length]!);
  const { size, lines } = setWords(words.replace(/\s+/g, ' ').trim(), widthOf, drawn.room, side);
  const footSize = Math.round(side * 0.04);
  const margin = Math.round(side * 0.08);
  return {
    width,
    height,
    shapes: drawn.shapes,
    ink: drawn.ink,
    footInk: drawn.footInk,
    lines: lines.map((text, i) => ({
      text,
      x: drawn.room.x,
      y: Math.round(drawn.room.y + size * (0.9 + i * LEADING)),
      size,
    })),
    foot: {
      text: foot,
      size: footSize,
      x: drawn.foot === 'left' ? drawn.room.x : Math.round(width - margin - widthOf(foot) * footSize),
      y: height - Math.round(margin * 0.62),
    },
  };
}
