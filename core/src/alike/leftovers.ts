import type { BodyNode } from '../body/schema.js';
import { bodyText } from '../body/text.js';
import { containment, shingles, shingleWords } from './minhash.js';

/** What of a copied post is compared with its source. */
export interface CopiedPart {
  title: string;
  excerpt: string;
  slug: string | null;
  leadMedia: number | null;
  searchTitle: string;
  searchDescription: string;
  body: BodyNode;
}

/** Fields that can be left over, and how the interface names them. */
export const LEFTOVER_FIELDS = {
  title: 'title',
  excerpt: 'excerpt',
  slug: 'web address',
  leadMedia: 'lead picture',
  searchTitle: 'search title',
  searchDescription: 'search description',
} as const;
export type LeftoverField = keyof typeof LEFTOVER_FIELDS;

export interface Leftovers {
  fields: LeftoverField[];
  /** Indexes of top-level blocks whose words still are the source's. */
  blocks: number[];
}

/** A block is left over while half of its runs of words are the source's. */
const STILL_THE_SAME = 0.5;
/** Runs for blocks are shorter than for whole texts, or a changed word would hide its neighbours. */
const BLOCK_SHINGLE = 3;
/** Pictures that stayed are as telling as words that stayed. */
const pictureOf = (node: BodyNode): string =>
  node.type === 'picture'
    ? `picture ${Number(node.attrs?.['media'])}`
    : node.type === 'video'
      ? `video ${String(node.attrs?.['file'])} ${String(node.attrs?.['href'])}`
      : (node.content ?? []).map(pictureOf).filter(Boolean).join(' ');

/**
 * What still is the source's in a copy. Headings of a word or two are the build that one copies for, and are
 * never counted.
 */
export function leftoversOf(copy: CopiedPart, source: CopiedPart): Leftovers {
  const same = (a: string, b: string) => a.trim() !== '' && a.trim().toLowerCase() === b.trim().toLowerCase();
  const fields = (Object.keys(LEFTOVER_FIELDS) as LeftoverField[]).filter((field) => {
    if (field === 'leadMedia') return copy.leadMedia !== null && copy.leadMedia === source.leadMedia;
    if (field === 'slug')
      return (
        copy.slug !== null &&
        source.slug !== null &&
        (copy.slug === source.slug || copy.slug.startsWith(`${source.slug}-`))
      );
    return same(copy[field], source[field]);
  });
  const sourceRuns = new Set<number>();
  const sourcePictures = new Set<string>();
  for (const block of source.body.content ?? []) {
    for (const run of shingles(bodyText(block), BLOCK_SHINGLE)) sourceRuns.add(run);
    const picture = pictureOf(block);
    if (picture) sourcePictures.add(picture);
  }
  const blocks = (copy.body.content ?? []).flatMap((block, index) => {
    const picture = pictureOf(block);
    if (picture && sourcePictures.has(picture)) return [index];
    const text = bodyText(block);
    if (shingleWords(text).length < BLOCK_SHINGLE) return [];
    return containment(shingles(text, BLOCK_SHINGLE), sourceRuns) >= STILL_THE_SAME ? [index] : [];
  });
  return { fields, blocks };
}

export function countLeftovers(left: Leftovers): number {
  return left.fields.length + left.blocks.length;
}
