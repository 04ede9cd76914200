import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { openSync, type Font } from 'fontkit';
import sharp from 'sharp';
import { drawCard, escapeHtml, type CardAsk, type CardLine } from '@keyroster/core';

const require = createRequire(import.meta.url);
const face = (name: string, file: string) => {
  let font: Font | null = null;
  return () =>
    (font ??= openSync(
      join(dirname(require.resolve(`@fontsource/${name}/package.json`)), 'files', file),
    ) as Font);
};
/** The card's words, and the letters beyond those of Western Europe. */
const WORDS = [
  face('newsreader', 'newsreader-latin-600-normal.woff'),
  face('newsreader', 'newsreader-latin-ext-600-normal.woff'),
];
const FOOT = [
  face('hanken-grotesk', 'hanken-grotesk-latin-700-normal.woff'),
  face('hanken-grotesk', 'hanken-grotesk-latin-ext-700-normal.woff'),
];

const fontFor = (fonts: typeof WORDS, text: string): Font | null =>
  fonts.map((f) => f()).find((f) => [...text].every((c) => f.hasGlyphForCodePoint(c.codePointAt(0)!))) ??
  null;
const isWide = (c: string) =>
  /[\u1100-\u11ff\u2e80-\ua4cf\uac00-\ud7a3\uf900-\ufaff\ufe30-\ufe4f\uff00-\uff60\u{1f000}-\u{1faff}\u{20000}-\u{3fffd}]/u.test(
    c,
  );
/**
 * Scripts that our faces do not have are set in whatever the machine has; their width is taken as generously
 * as is usual.
 */
const widthWithout = (text: string) => [...text].reduce((sum, c) => sum + (isWide(c) ? 1.05 : 0.68), 0);

function widthOf(fonts: typeof WORDS, text: string): number {
  const font = fontFor(fonts, text);
  return font ? font.layout(text).advanceWidth / font.unitsPerEm : widthWithout(text);
}

/** A line of text as outlines, so that the picture is the same on every machine. */
function outlines(fonts: typeof WORDS, { text, x, y, size }: CardLine, ink: string): string {
  const font = fontFor(fonts, text);
  if (!font)
    return (
      `<text x="${x}" y="${y}" font-size="${size}" font-family="sans-serif" ` +
      `font-weight="600" fill="${ink}">${escapeHtml(text)}</text>`
    );
  const run = font.layout(text);
  const scale = size / font.unitsPerEm;
  let at = 0;
  const glyphs = run.glyphs.map((glyph, i) => {
    const place = run.positions[i]!;
    const path = `<path transform="translate(${at + place.xOffset} ${place.yOffset})" d="${glyph.path.toSVG()}"/>`;
    at += place.xAdvance;
    return path;
  });
  return `<g transform="translate(${x} ${y}) scale(${scale} ${-scale})" fill="${ink}">${glyphs.join('')}</g>`;
}

/**
 * Draws a card as PNG, in its shape's pixels. The same words, style, shape and palette give the same bytes.
 */
export async function cardPng(ask: CardAsk): Promise<Buffer> {
  // Measured in one face for all lines: a line that is set in another is measured as that one.
  const card = drawCard(ask, (text) => widthOf(text === ask.foot ? FOOT : WORDS, text));
  const lines = card.lines.map((l) => outlines(WORDS, l, card.ink)).join('');
  const svg =
    `<svg xmlns="http://www.w3.org/2000/svg" width="${card.width}" height="${card.height}" ` +
    `viewBox="0 0 ${card.width} ${card.height}">` +
    `${card.shapes}${lines}${outlines(FOOT, card.foot, card.footInk)}</svg>`;
  return sharp(Buffer.from(svg), { limitInputPixels: 4_000_000 })
    .png({ palette: true, quality: 95 })
    .toBuffer();
}
