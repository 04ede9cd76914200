import { createHash } from 'node:crypto';
import sharp from 'sharp';
import type { MediaView } from '@keyroster/contract';
import type { CurrentPerson } from '../accounts/who.js';
import type { Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';

const MOST_PIXELS = 60_000_000;
const MOST_SIDE = 2000;
const FORMATS: Record<string, 'jpeg' | 'png' | 'webp'> = { jpeg: 'jpeg', png: 'png', webp: 'webp', gif: 'png', heif: 'jpeg', tiff: 'jpeg' };

sharp.concurrency(1);
sharp.cache(false);

/**
 * Keeps a picture in the library, recognised by its content, upright, at most 2000 pixels a side and without metadata
 * (a camera's location among it). The same picture twice is kept once. Drawings (SVG) and anything else are refused.
 */
export async function keepPicture(trx: Trx, person: Pick<CurrentPerson, 'blogId' | 'id'>, bytes: Buffer): Promise<MediaView> {
  const made = await redraw(bytes);
  const sha256 = createHash('sha256').update(made.data).digest('hex');
  await trx('media').insert({
    blog_id: person.blogId, sha256, type: `image/${made.info.format}`, width: made.info.width, height: made.info.height, bytes: made.data, added_by: person.id,
  }).onConflict(['blog_id', 'sha256']).ignore();
  const row = await trx('media').where({ blog_id: person.blogId, sha256 }).first<{ id: number; type: string; width: number; height: number }>('id', 'type', 'width', 'height');
  return { ...row!, src: mediaSrc(row!.id), size: made.data.length };
}

export const mediaSrc = (id: number) => `/media/${id}`;

async function redraw(bytes: Buffer) {
  const refused = new ProblemError('wrong-file', 'That is not a picture we can keep. Use a JPEG, PNG, WebP or GIF.');
  // A drawing is text; it is refused before any decoder sees it.
  if (/^\s*(<\?xml|<svg|<!doctype)/i.test(bytes.subarray(0, 512).toString('latin1'))) throw refused;
  try {
    const picture = sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'error', animated: false });
    const { format } = await picture.metadata();
    const to = FORMATS[format ?? ''];
    if (!to) throw refused;
    return await picture.timeout({ seconds: 20 }).rotate().resize({ width: MOST_SIDE, height: MOST_SIDE, fit: 'inside', withoutEnlargement: true })
      .toFormat(to, to === 'jpeg' ? { quality: 82, mozjpeg: true } : {}).toBuffer({ resolveWithObject: true });
  } catch (error) {
    if (error instanceof ProblemError) throw error;
    throw /pixel limit/i.test(String(error)) ? new ProblemError('too-large', 'That picture has more than 60 million pixels, which is more than we can draw.') : refused;
  }
}
