/**
 * Advance widths of Helvetica in thousandths of an em, from Adobe's core font metrics (from memory). Search
 * entries are set in a face with these widths or near to them.
 */
const WIDTHS: readonly (readonly [width: number, letters: string])[] = [
  [191, "'"],
  [222, 'ijl’‘'],
  [260, '|'],
  [278, ' !,./:;I[]\\ft'],
  [333, '()-`r“”'],
  [334, '{}'],
  [355, '"'],
  [389, '*'],
  [469, '^'],
  [500, 'ckvxyzJs'],
  [556, '#$0123456789?_abdeghnopquL–£'],
  [584, '+<=>~'],
  [611, 'FTZ'],
  [667, '&ABEKPSVXY'],
  [722, 'CDHNRUw'],
  [778, 'GOQ'],
  [833, 'Mm'],
  [889, '%'],
  [944, 'W'],
  [1000, '—…'],
  [1015, '@'],
];
const WIDTH_OF = new Map(
  WIDTHS.flatMap(([width, letters]) => [...letters].map((letter) => [letter, width] as const)),
);
const USUAL = 556;

/**
 * A title's size in a search entry and the room there, in CSS pixels (common practice, no published source).
 */
export const ENTRY = { size: 20, room: 600 } as const;

/**
 * Width of a text set in Helvetica at a size, in the unit of the size. Accents do not count; other scripts
 * are taken as wide.
 */
export function textWidth(text: string, size: number): number {
  let thousandths = 0;
  for (const letter of text.normalize('NFD').replace(/\p{M}/gu, ''))
    thousandths += WIDTH_OF.get(letter) ?? (/[\u2e80-\uffef]/.test(letter) ? 1000 : USUAL);
  return (thousandths * size) / 1000;
}
