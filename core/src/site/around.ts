import { lookCss, unreadable, type Look } from './look.js';
import type { Colours } from './palettes.js';

/** A site that the blog stands in as a part of it: its name, colours, faces and where it leads. */
export interface Surroundings {
  name: string;
  /** The address of the site. */
  home: string;
  colours: Colours;
  /** Faces for titles and for text, as CSS lists families; null: the blog's own. */
  faces: { titles: string; text: string } | null;
  header: readonly { label: string; url: string }[];
  footer: readonly { label: string; url: string }[];
}

/** Where within the site the blog is: what the proxy there passes on. */
export interface Mount {
  host: string;
  path: string;
}
export interface Around extends Surroundings {
  mount: Mount;
}

const MAX_LINKS = 20;
const MAX_TEXT = 60;
export const MAX_THEME_CHARS = 40_000;

export type ThemeAnswer = { ok: true; theme: Surroundings } | { ok: false; sentence: string };
type Json = Record<string, unknown>;

const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const at = (value: unknown, ...path: string[]): unknown =>
  path.reduce<unknown>((v, key) => (isObject(v) && Object.hasOwn(v, key) ? v[key] : undefined), value);

class Misread extends Error {}

/** A colour token's value: `#rrggbb`, or an object with `hex` or with the three components of sRGB from 0 to 1. */
function colourAt(theme: Json, name: string): string | null {
  const value = at(theme, 'color', name, '$value');
  if (value === undefined) return null;
  const hex = typeof value === 'string' ? value : at(value, 'hex');
  if (typeof hex === 'string' && /^#[0-9a-f]{6}$/i.test(hex)) return hex.toLowerCase();
  const parts = at(value, 'components');
  if (
    Array.isArray(parts) &&
    parts.length === 3 &&
    parts.every((p) => typeof p === 'number' && p >= 0 && p <= 1)
  )
    return `#${(parts as number[])
      .map((p) =>
        Math.round(p * 255)
          .toString(16)
          .padStart(2, '0'),
      )
      .join('')}`;
  throw new Misread(`The colour “${name}” is none: write it as #rrggbb.`);
}

/** Families as CSS lists them; only names, so that nothing else gets into a style sheet. */
function facesAt(theme: Json, name: string): string | null {
  const value = at(theme, 'font', name, '$value');
  if (value === undefined) return null;
  const families = Array.isArray(value) ? value : [value];
  if (families.length === 0 || !families.every((f) => typeof f === 'string' && /^[\w -]{1,60}$/.test(f)))
    throw new Misread(`The face “${name}” is no list of families.`);
  return (families as string[]).map((f) => (/^[\w-]+$/.test(f) ? f : `"${f}"`)).join(', ');
}

function linksAt(theme: Json, name: string): Surroundings['header'] {
  const value = theme[name] ?? [];
  if (!Array.isArray(value) || value.length > MAX_LINKS)
    throw new Misread(`“${name}” is a list of at most ${MAX_LINKS} links.`);
  return value.map((link: unknown) => {
    const [label, url] = [at(link, 'label'), at(link, 'url')];
    if (typeof label !== 'string' || label.trim() === '' || label.length > MAX_TEXT)
      throw new Misread(`A link of “${name}” has no label, or one of more than ${MAX_TEXT} characters.`);
    if (typeof url !== 'string' || !isWeb(url))
      throw new Misread(`“${label}” leads to no address that begins with https:// or http://.`);
    return { label: label.trim(), url };
  });
}

const isWeb = (url: string): boolean => /^https?:\/\/[^\s"<>]{1,500}$/i.test(url);

/**
 * Reads a theme file: a JSON object with `name`, `home`, `header` and `footer`, and design tokens in the format of
 * the Design Tokens Community Group (2025): `color.paper`, `color.ink` and `color.act`, with `sheet`, `soft` and
 * `line` as far as they are given, and `font.titles` and `font.text`. Refuses colours in which text could not be read.
 */
export function readTheme(text: string): ThemeAnswer {
  try {
    if (text.length > MAX_THEME_CHARS) throw new Misread('That file is too long for a theme.');
    return { ok: true, theme: themeFrom(parse(text)) };
  } catch (error) {
    if (error instanceof Misread) return { ok: false, sentence: error.message };
    throw error;
  }
}

function parse(text: string): Json {
  try {
    const value: unknown = JSON.parse(text);
    if (isObject(value)) return value;
  } catch {
    // Said below.
  }
  throw new Misread('That is no theme file: a JSON object with a name, an address and design tokens.');
}

function themeFrom(theme: Json): Surroundings {
  const { name, home } = theme;
  if (typeof name !== 'string' || name.trim() === '' || name.length > MAX_TEXT)
    throw new Misread('The theme file does not say the name of the site.');
  if (typeof home !== 'string' || !isWeb(home))
    throw new Misread('The theme file does not say where the site is (“home”).');
  const [paper, ink, act] = (['paper', 'ink', 'act'] as const).map((key) => {
    const colour = colourAt(theme, key);
    if (colour === null) throw new Misread(`The colour “${key}” is missing (color.${key}).`);
    return colour;
  }) as [string, string, string];
  const colours: Colours = {
    paper,
    ink,
    act,
    sheet: colourAt(theme, 'sheet') ?? paper,
    soft: colourAt(theme, 'soft') ?? ink,
    line: colourAt(theme, 'line') ?? ink,
  };
  const bad = unreadable(colours);
  if (bad.length > 0)
    throw new Misread(
      `Text could not be read: ${bad
        .map((b) => `${b.text} on ${b.ground} has a contrast of ${b.contrast.toFixed(1)}`)
        .join(', ')}; at least 4.5 is needed.`,
    );
  const [titles, body] = [facesAt(theme, 'titles'), facesAt(theme, 'text')];
  return {
    name: name.trim(),
    home: home.replace(/\/+$/, ''),
    colours,
    faces: titles === null && body === null ? null : { titles: titles ?? body!, text: body ?? titles! },
    header: linksAt(theme, 'header'),
    footer: linksAt(theme, 'footer'),
  };
}

/** The look of a blog in its surroundings: their colours, which know no dark, and their faces. */
export function aroundCss(look: Look, { colours, faces }: Surroundings): string {
  const values = [
    ...Object.entries(colours).map(([name, value]) => `--${name}:${value}`),
    ...(faces ? [`--title-face:${faces.titles}`, `--text-face:${faces.text}`] : []),
  ].join(';');
  return `${lookCss(look).replace(/@media \(prefers-color-scheme:dark\)\{.*$/s, '')}:root{color-scheme:light;${values}}`;
}
