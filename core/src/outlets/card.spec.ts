import fc from 'fast-check';
import { CARD_STYLES, PALETTES, SHAPES, SHAPE_NAMES, breakLines, contrastOf, drawCard } from '../index.js';

/** Letters half as wide as they are high; enough to place words without a face. */
const widthOf = (text: string) => [...text].length * 0.5;

describe('cards', () => {
  it('keep every word, in order, inside the card, in every style and shape', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...CARD_STYLES),
        fc.constantFrom(...SHAPE_NAMES),
        fc.array(fc.constantFrom('a', 'gland', 'winter-proofing', 'drips', 'Tolver'), {
          minLength: 1,
          maxLength: 20,
        }),
        fc.nat(9),
        (style, shape, list, palette) => {
          const words = list.join(' ');
          const card = drawCard({ words, foot: 'HALFWAY LOCK', style, shape, palette }, widthOf);
          expect([card.width, card.height]).toEqual([SHAPES[shape].width, SHAPES[shape].height]);
          expect(card.lines.map((l) => l.text).join(' ')).toBe(words);
          for (const line of [...card.lines, card.foot]) {
            expect(line.x).toBeGreaterThanOrEqual(0);
            expect(line.x + widthOf(line.text) * line.size).toBeLessThanOrEqual(card.width);
            expect(line.y).toBeLessThanOrEqual(card.height);
          }
        },
      ),
    );
  });

  it('differ by style, and are the same each time', () => {
    const draw = (style: (typeof CARD_STYLES)[number]) =>
      drawCard({ words: 'Drain, turn, fill, date', foot: 'X', style, shape: 'square', palette: 1 }, widthOf);
    expect(new Set(CARD_STYLES.map((s) => draw(s).shapes)).size).toBe(CARD_STYLES.length);
    expect(draw('wedge')).toEqual(draw('wedge'));
  });

  it('can be read: ink on its ground at least 4.5 to 1', () => {
    // WCAG 2.2, success criterion 1.4.3.
    for (const p of PALETTES) {
      expect(contrastOf(p.ink, p.back)).toBeGreaterThanOrEqual(4.5);
      expect(contrastOf('#fbfcf9', p.deep)).toBeGreaterThanOrEqual(4.5);
    }
  });

  it('break lines at spaces only', () => {
    expect(breakLines('one two three', widthOf, 4)).toEqual(['one two', 'three']);
    expect(breakLines('incomprehensible', widthOf, 4)).toBeNull();
  });
});
