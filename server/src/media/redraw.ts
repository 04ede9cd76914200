import sharp from 'sharp';
import { nextQuality, type Encoding } from '@keyroster/core';
import type { Crop } from '@keyroster/contract';
import type { Queryable } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import type { Drawn } from './store-picture.js';
import { openPicture } from './open-picture.js';

interface Source {
  bytes: Buffer;
  type: string;
  width: number;
  height: number;
  size: number;
}

async function sourceOf(db: Queryable, blogId: number, id: number): Promise<Source> {
  const row = await db('media')
    .where({ blog_id: blogId, id })
    .first<Source | undefined>('bytes', 'type', 'width', 'height', 'size');
  if (!row) throw notFound('That picture');
  return row;
}

/** No page shows a picture wider; more would only weigh. */
const MAX_SIDE = 2000;
/** Widths that are tried when even a low quality is too heavy. */
const NARROWER = [0.8, 0.64, 0.5, 0.4, 0.3];

/**
 * A picture of at most so many bytes, as JPEG, at most 2000 pixels a side: the best quality that fits, found
 * by halving in at most eight tries of a picture that was decoded once; then, if even the lowest is too
 * heavy, narrower. A picture that is light enough already comes back as it is.
 */
export async function lighter(
  db: Queryable,
  blogId: number,
  id: number,
  max: number,
): Promise<Drawn & { quality: number | null }> {
  const source = await sourceOf(db, blogId, id);
  if (source.size <= max)
    return {
      data: source.bytes,
      info: {
        format: source.type.replace('image/', '') as 'jpeg',
        width: source.width,
        height: source.height,
      },
      quality: null,
    };
  const { data: raw, info } = await openPicture(source.bytes)
    .resize({ width: MAX_SIDE, height: MAX_SIDE, fit: 'inside', withoutEnlargement: true })
    .flatten({ background: '#ffffff' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  const encode = (width: number, quality: number) =>
    sharp(raw, { raw: { width: info.width, height: info.height, channels: info.channels } })
      .resize({ width })
      .jpeg({ quality })
      .toBuffer({ resolveWithObject: true });
  const made = new Map<number, Drawn>();
  const tried: Encoding[] = [];
  for (;;) {
    const { next, fits } = nextQuality(tried, max, { low: 40, high: 88 });
    if (next === null) {
      if (fits) return { ...made.get(fits.quality)!, quality: fits.quality };
      break;
    }
    const drawn = await encode(info.width, next);
    made.set(next, drawn);
    tried.push({ quality: next, bytes: drawn.data.length });
  }
  for (const scale of NARROWER) {
    const drawn = await encode(Math.max(320, Math.round(info.width * scale)), 70);
    if (drawn.data.length <= max) return { ...drawn, quality: 70 };
  }
  throw new ProblemError(
    'invalid',
    'This picture cannot be made so light and still be looked at. Ask for a little more.',
  );
}

/** A part of a picture, cut out. */
export async function crop(db: Queryable, blogId: number, id: number, part: Crop): Promise<Drawn> {
  const source = await sourceOf(db, blogId, id);
  if (part.left + part.width > source.width || part.top + part.height > source.height)
    throw new ProblemError(
      'invalid',
      `The part reaches beyond the picture, which is ${source.width} by ${source.height} pixels.`,
    );
  const to = source.type === 'image/png' ? 'png' : 'jpeg';
  return openPicture(source.bytes)
    .extract(part)
    .toFormat(to, to === 'jpeg' ? { quality: 90 } : {})
    .toBuffer({ resolveWithObject: true });
}
