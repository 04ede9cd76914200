import { contrastOf } from '../picture/picture.js';
import { COLUMN } from './looks/column.js';
import { MARGIN } from './looks/margin.js';
import { PLATE } from './looks/plate.js';
import { PRESS } from './looks/press.js';
import type { LookTokens } from './looks/tokens.js';
import { PALETTE_KEYS, READER_PALETTES, type Colours, type PaletteKey } from './palettes.js';

export const LOOKS = { press: PRESS, margin: MARGIN, plate: PLATE, column: COLUMN } as const satisfies Record<
  string,
  LookTokens
>;
export type LookKey = keyof typeof LOOKS;
export const LOOK_KEYS = Object.keys(LOOKS) as LookKey[];

/** The widest line of text, in rem. */
export const MEASURES = { narrow: 36, medium: 42, wide: 48 } as const;
export type Measure = keyof typeof MEASURES;
/** Of running text, in px. */
export const READING_SIZES = { small: 17, medium: 19, large: 22 } as const;
export type ReadingSize = keyof typeof READING_SIZES;
/** Facts that can be shown with a post, next to its title and text. */
export const POST_FACTS = ['byline', 'date', 'updated', 'category', 'reading time', 'place'] as const;
export type PostFact = (typeof POST_FACTS)[number];

/** A look with what was chosen in it. */
export interface Look {
  look: LookKey;
  palette: PaletteKey;
  measure: Measure;
  size: ReadingSize;
  facts: readonly PostFact[];
}

export const FIRST_LOOK: Look = {
  look: 'press',
  palette: 'moss',
  measure: 'medium',
  size: 'medium',
  facts: [...POST_FACTS],
};

/** The least contrast that text may have (WCAG 2.2, success criterion 1.4.3). */
export const MIN_CONTRAST = 4.5;
const READ_ON: readonly [keyof Colours, keyof Colours][] = (['ink', 'soft', 'act'] as const).flatMap((text) =>
  (['paper', 'sheet'] as const).map((ground): [keyof Colours, keyof Colours] => [text, ground]),
);

/** What could not be read in these colours: each text on its ground, with the contrast reached. Empty is good. */
export function unreadable(
  colours: Colours,
): { text: keyof Colours; ground: keyof Colours; contrast: number }[] {
  return READ_ON.map(([text, ground]) => ({
    text,
    ground,
    contrast: contrastOf(colours[text], colours[ground]),
  })).filter((pair) => pair.contrast < MIN_CONTRAST);
}

const FACES = { serif: 'Newsreader, Georgia, serif', sans: 'Hanken, system-ui, sans-serif' } as const;

const declare = (values: Record<string, string>): string =>
  Object.entries(values)
    .map(([name, value]) => `--${name}:${value}`)
    .join(';');

/** A look as a style sheet: nothing but values of the tokens that the pages are built of. */
export function lookCss({ look, palette, measure, size }: Look): string {
  const tokens: LookTokens = LOOKS[look];
  const { light, dark } = READER_PALETTES[palette];
  const fixed = declare({
    'title-face': FACES[tokens.titles],
    'text-face': FACES[tokens.text],
    weight: `${tokens.weight}`,
    'title-size': `${tokens.titleSize}rem`,
    rule: tokens.rule,
    radius: `${tokens.radius}px`,
    head: tokens.head,
    measure: `${MEASURES[measure]}rem`,
    reading: `${READING_SIZES[size] / 16}rem`,
  });
  return (
    `:root{color-scheme:light dark;${fixed};${declare({ ...light })}}` +
    `@media (prefers-color-scheme:dark){:root{${declare({ ...dark })}}}`
  );
}

/** A look from what was kept or sent, whatever it is: what is not known of it is as in the first look. */
export function lookOf(value: unknown): Look {
  const given = (typeof value === 'object' && value !== null ? value : {}) as Record<string, unknown>;
  const one = <T extends string>(name: string, known: readonly T[], usual: T): T =>
    known.find((k) => k === given[name]) ?? usual;
  const facts = given['facts'];
  return {
    look: one('look', LOOK_KEYS, FIRST_LOOK.look),
    palette: one('palette', PALETTE_KEYS, FIRST_LOOK.palette),
    measure: one('measure', Object.keys(MEASURES) as Measure[], FIRST_LOOK.measure),
    size: one('size', Object.keys(READING_SIZES) as ReadingSize[], FIRST_LOOK.size),
    facts: Array.isArray(facts) ? POST_FACTS.filter((f) => facts.includes(f)) : FIRST_LOOK.facts,
  };
}
