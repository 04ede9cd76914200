/** Shapes a picture is cut to: width by height. */
export const SHAPES = {
  landscape: { width: 1200, height: 630 },
  square: { width: 1080, height: 1080 },
  portrait: { width: 1080, height: 1350 },
} as const;
export type Shape = keyof typeof SHAPES;
export const SHAPE_NAMES = Object.keys(SHAPES) as Shape[];

/** The point that must stay in sight, from 0 (left, top) to 1 (right, bottom). */
export interface Focus {
  x: number;
  y: number;
}

export interface CropBox {
  left: number;
  top: number;
  width: number;
  height: number;
}

/**
 * The largest cut of a shape with the focus as near to its middle as the edges allow; whole pixels within the
 * picture.
 */
export function cropFor(
  width: number,
  height: number,
  shape: { width: number; height: number },
  focus: Focus,
): CropBox {
  const scale = Math.min(width / shape.width, height / shape.height);
  const w = Math.min(width, Math.max(1, Math.round(shape.width * scale)));
  const h = Math.min(height, Math.max(1, Math.round(shape.height * scale)));
  const place = (at: number, whole: number, part: number) =>
    Math.round(Math.min(Math.max(at * whole - part / 2, 0), whole - part));
  return { left: place(focus.x, width, w), top: place(focus.y, height, h), width: w, height: h };
}

/** What a lead picture should weigh, in bytes (common practice: 300–500 kB; 60 kB looks poor). */
export const LEAD_WEIGHT = { min: 300_000, max: 500_000, poor: 60_000 } as const;

/** Kilobytes as people say them: `412 kB`, `4.8 MB`. */
export function formatBytes(bytes: number): string {
  return bytes >= 1_000_000
    ? `${(bytes / 1_000_000).toFixed(1)} MB`
    : `${Math.max(1, Math.round(bytes / 1000))} kB`;
}

export type Rgb = readonly [red: number, green: number, blue: number];

/**
 * Relative luminance of a colour, 0 to 1 (WCAG 2.2, definition of relative luminance, sRGB values 0 to 255).
 */
export function luminance(colour: Rgb): number {
  const [r, g, b] = colour.map((value) => {
    const c = value / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** Contrast ratio of two colours, 1 to 21 (WCAG 2.2, definition of contrast ratio). */
export function contrast(a: Rgb, b: Rgb): number {
  const [x, y] = [luminance(a), luminance(b)];
  return (Math.max(x, y) + 0.05) / (Math.min(x, y) + 0.05);
}

const rgb = (hex: string): Rgb => [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16)) as unknown as Rgb;

/** Contrast ratio of two colours written as #rrggbb. */
export const contrastOf = (a: string, b: string): number => contrast(rgb(a), rgb(b));

/** Laid over with so much of another colour, 0 to 1. */
export function veiled(colour: Rgb, veil: Rgb, strength: number): Rgb {
  return colour.map((c, i) => c + (veil[i]! - c) * strength) as unknown as Rgb;
}

export interface CardInk {
  ink: Rgb;
  veil: Rgb;
  /** How strongly the picture is veiled behind the words, 0 to 1. */
  strength: number;
  /** The contrast against the worst place behind the words. */
  contrast: number;
}

const WHITE: Rgb = [255, 255, 255];
const INK: Rgb = [23, 33, 30];
/** WCAG 2.2 AA, success criterion 1.4.3: 4.5:1. */
export const TEXT_CONTRAST = 4.5;

/**
 * Ink and the thinnest veil with which words stand out from every sampled place of the picture behind them.
 */
export function cardInk(samples: readonly Rgb[]): CardInk {
  const worst = (ink: Rgb, veil: Rgb, strength: number) =>
    Math.min(...samples.map((s) => contrast(ink, veiled(s, veil, strength))), contrast(ink, veil));
  const thinnest = (ink: Rgb, veil: Rgb): CardInk => {
    for (let strength = 0; strength < 1; strength += 0.05) {
      const reached = worst(ink, veil, strength);
      if (reached >= TEXT_CONTRAST) return { ink, veil, strength, contrast: reached };
    }
    return { ink, veil, strength: 1, contrast: contrast(ink, veil) };
  };
  const [light, dark] = [thinnest(WHITE, INK), thinnest(INK, WHITE)];
  return dark.strength < light.strength ? dark : light;
}

/** A JPEG, PNG or WebP at a quality, and its weight in bytes. */
export interface Encoding {
  quality: number;
  bytes: number;
}

/**
 * The next quality to try so that a picture weighs at most `most` bytes: binary search between what was too
 * heavy and what was light enough, at most eight tries. Null when the best is found; `fits` is it, or
 * undefined when even the lowest was too heavy.
 */
export function nextQuality(
  tried: readonly Encoding[],
  max: number,
  range: { low: number; high: number } = { low: 30, high: 92 },
): { next: number | null; fits: Encoding | undefined } {
  const fits = tried.filter((t) => t.bytes <= max).sort((a, b) => b.quality - a.quality)[0];
  const heavy = Math.min(...tried.filter((t) => t.bytes > max).map((t) => t.quality), range.high + 1);
  const light = fits?.quality ?? range.low - 1;
  if (tried.length >= 8 || heavy - light <= 1) return { next: null, fits };
  if (tried.length === 0) return { next: range.high, fits };
  return { next: Math.max(range.low, Math.floor((light + heavy) / 2)), fits };
}
