import type { BodyNode } from '../body/schema.js';
import { bodyText } from '../body/text.js';
import { CHECKED_FIELDS, POST_FIELDS, type CheckedField, type TextFieldName } from '../posts/fields.js';
import type { LeadPicture, PostValues } from '../posts/values.js';
import { containment, shingles, shingleWords } from './minhash.js';

type PictureField = Extract<CheckedField, 'leadPicture' | 'sharePicture'>;
/** Fields that can be left over in a copy: what checks read of texts, pictures and the address. */
export type LeftoverField = Extract<CheckedField, TextFieldName | PictureField | 'slug'>;
const isPicture = (field: LeftoverField): field is PictureField =>
  field === 'leadPicture' || field === 'sharePicture';
export const LEFTOVER_FIELDS = CHECKED_FIELDS.filter(
  (f): f is LeftoverField => POST_FIELDS[f].kind === 'text' || f === 'slug' || isPicture(f as LeftoverField),
);
/** What of a copied post is compared with its source. */
export type CopiedPart = Pick<PostValues, LeftoverField | 'body'>;
export const COPIED_PART = [...LEFTOVER_FIELDS, 'body'] as const;

export interface Leftovers {
  fields: LeftoverField[];
  /** Indexes of top-level blocks whose words still are the source's. */
  blocks: number[];
}

const mediaOf = (picture: LeadPicture | number | null): number | null =>
  picture !== null && typeof picture === 'object' ? picture.media : picture;
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
  const fields = LEFTOVER_FIELDS.filter((field) => {
    if (isPicture(field)) {
      const now = mediaOf(copy[field]);
      return now !== null && now === mediaOf(source[field]);
    }
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
