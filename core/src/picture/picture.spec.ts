import { rgb } from 'wcag-contrast';
import { fc } from '../testing.js';
import {
  cardInk,
  contrast,
  cropFor,
  luminance,
  nextQuality,
  formatBytes,
  SHAPES,
  TEXT_CONTRAST,
  type Encoding,
  type Rgb,
} from './picture.js';

describe('contrast', () => {
  // WCAG 2.2: white on black is 21:1; #777777 on white is 4.48:1 and #767676 4.54:1 (W3C, Understanding
  // Success Criterion 1.4.3).
  it.each<[Rgb, Rgb, number]>([
    [[0, 0, 0], [255, 255, 255], 21],
    [[0x77, 0x77, 0x77], [255, 255, 255], 4.48],
    [[0x76, 0x76, 0x76], [255, 255, 255], 4.54],
    [[9, 9, 9], [9, 9, 9], 1],
  ])('%j on %j', (a, b, ratio) => {
    expect(contrast(a, b)).toBeCloseTo(ratio, 2);
    expect(contrast(b, a)).toBe(contrast(a, b));
  });
  const colour = () => fc.tuple(fc.nat(255), fc.nat(255), fc.nat(255));
  it('agrees with an independent package', () => {
    fc.assert(
      fc.property(colour(), colour(), (a, b) => {
        expect(contrast(a, b)).toBeCloseTo(rgb(a, b), 1);
      }),
    );
    expect(luminance([255, 255, 255])).toBeCloseTo(1, 6);
  });
  it('gives every title card ink that can be read on every place behind it', () => {
    fc.assert(
      fc.property(fc.array(colour(), { minLength: 1, maxLength: 30 }), (samples) => {
        expect(cardInk(samples).contrast).toBeGreaterThanOrEqual(TEXT_CONTRAST);
      }),
    );
  });
  it('veils no more than it must', () => {
    expect(cardInk([[0, 0, 0]]).strength).toBe(0);
    expect(cardInk([[255, 255, 255]]).strength).toBe(0);
    expect(
      cardInk([
        [0, 0, 0],
        [255, 255, 255],
      ]).strength,
    ).toBeGreaterThan(0.3);
  });
});

describe('cutting', () => {
  it('keeps the focus in sight and stays within the picture', () => {
    expect(cropFor(2000, 1000, SHAPES.square, { x: 1, y: 0.5 })).toEqual({
      left: 1000,
      top: 0,
      width: 1000,
      height: 1000,
    });
    expect(cropFor(2000, 1000, SHAPES.square, { x: 0.5, y: 0.5 })).toEqual({
      left: 500,
      top: 0,
      width: 1000,
      height: 1000,
    });
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 6000 }),
        fc.integer({ min: 1, max: 6000 }),
        fc.constantFrom(...Object.values(SHAPES)),
        fc.float({ min: 0, max: 1, noNaN: true }),
        fc.float({ min: 0, max: 1, noNaN: true }),
        (w, h, shape, x, y) => {
          const cut = cropFor(w, h, shape, { x, y });
          expect(
            cut.left >= 0 &&
              cut.top >= 0 &&
              cut.width >= 1 &&
              cut.height >= 1 &&
              cut.left + cut.width <= w &&
              cut.top + cut.height <= h,
          ).toBe(true);
          expect(cut.left <= x * w + 1 && x * w <= cut.left + cut.width + 1).toBe(true);
          if (w > 50 && h > 50)
            expect(Math.abs(cut.width / cut.height - shape.width / shape.height)).toBeLessThan(0.06);
        },
      ),
    );
  });
});

describe('weight', () => {
  /** A made-up encoder whose weight grows with quality. */
  const search = (weigh: (quality: number) => number, max: number) => {
    const tried: Encoding[] = [];
    for (;;) {
      const { next, fits } = nextQuality(tried, max);
      if (next === null) return { fits, tries: tried.length };
      tried.push({ quality: next, bytes: weigh(next) });
    }
  };
  it('finds the best quality that fits in at most eight tries', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 50, max: 300 }),
        fc.integer({ min: 1000, max: 40_000 }),
        (perPoint, max) => {
          const { fits, tries } = search((q) => q * perPoint, max);
          const best = Array.from({ length: 63 }, (_, i) => 30 + i)
            .filter((q) => q * perPoint <= max)
            .at(-1);
          expect(tries).toBeLessThanOrEqual(8);
          expect(fits?.quality).toBe(best);
        },
      ),
    );
  });
  it('says bytes as people do', () => {
    expect([formatBytes(412_300), formatBytes(4_800_000), formatBytes(12)]).toEqual([
      '412 kB',
      '4.8 MB',
      '1 kB',
    ]);
  });
});
