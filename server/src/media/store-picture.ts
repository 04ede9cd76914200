import { createHash } from 'node:crypto';
import type { OutputInfo } from 'sharp';
import type { MediaView } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { bounded } from '../http/bounded.js';
import { ProblemError } from '../http/problem.js';
import { planSizes } from '../jobs/queue.js';
import { findMedia } from './library.js';
import { openPicture } from './open-picture.js';

/** Wide enough for any page and any cut of it. */
const MAX_SIDE = 3200;
const QUALITY = 90;
const FORMATS: Record<string, 'jpeg' | 'png' | 'webp'> = {
  jpeg: 'jpeg',
  png: 'png',
  webp: 'webp',
  gif: 'png',
  heif: 'jpeg',
  tiff: 'jpeg',
};

export interface Drawn {
  data: Buffer;
  info: Pick<OutputInfo, 'format' | 'width' | 'height'>;
}

/** How a picture came to be, for those that were not taken but made. */
export interface Origin {
  name?: string;
  madeFromId?: number;
}

/**
 * Keeps what was drawn here. The same picture twice is kept once; if it lay in the bin it comes back. Words about
 * the picture it was made from come along. Sizes for the page follow in a job.
 */
export async function storeDrawn(
  trx: Trx,
  person: Pick<CurrentPerson, 'blogId' | 'id'>,
  made: Drawn,
  origin: Origin = {},
): Promise<MediaView> {
  const sha256 = createHash('sha256').update(made.data).digest('hex');
  const from =
    origin.madeFromId === undefined
      ? undefined
      : await trx('media')
          .where({ blog_id: person.blogId, id: origin.madeFromId })
          .first<Record<string, unknown>>(
            'name',
            'alt',
            'caption',
            'credit',
            'licence',
            'source',
            'tags',
            'focus_x',
            'focus_y',
          );
  const [row] = await trx('media')
    .insert({
      ...from,
      blog_id: person.blogId,
      sha256,
      type: `image/${made.info.format}`,
      width: made.info.width,
      height: made.info.height,
      bytes: made.data,
      added_by: person.id,
      ...(origin.name ? { name: origin.name.slice(0, 200) } : {}),
      made_from_id: origin.madeFromId ?? null,
    })
    .onConflict(['blog_id', 'sha256'])
    .merge({ binned_at: null })
    .returning<{ id: number; sizes_at: string | null }[]>(['id', 'sizes_at']);
  if (row!.sizes_at === null) await planSizes(trx, row!.id);
  return findMedia(trx, person.blogId, row!.id);
}

const refused = () =>
  new ProblemError('wrong-file', 'That is not a picture we can keep. Use a JPEG, PNG, WebP or GIF.');

/**
 * Draws a picture again as the library keeps it: recognised by its content, upright, at most 3200 pixels a side
 * and without metadata (a camera's location among it). Drawings (SVG) and anything else are refused. Takes up to
 * seconds: done before there is a transaction.
 */
export const redraw = (bytes: Buffer): Promise<Drawn> => drawing(() => draw(bytes));

/** A photo takes a core and a good deal of memory for a while: two at once, and a queue that has an end. */
const drawing = bounded(2, 60);

async function draw(bytes: Buffer): Promise<Drawn> {
  // A drawing is text; it is refused before any decoder sees it.
  if (/^\s*(<\?xml|<svg|<!doctype)/i.test(bytes.subarray(0, 512).toString('latin1'))) throw refused();
  try {
    const picture = openPicture(bytes);
    const { format } = await picture.metadata();
    const to = FORMATS[format ?? ''];
    if (!to) throw refused();
    return await picture
      .rotate()
      .resize({ width: MAX_SIDE, height: MAX_SIDE, fit: 'inside', withoutEnlargement: true })
      .toFormat(to, to === 'png' ? {} : { quality: QUALITY })
      .toBuffer({ resolveWithObject: true });
  } catch (error) {
    if (error instanceof ProblemError) throw error;
    throw /pixel limit/i.test(String(error))
      ? new ProblemError(
          'too-large',
          'That picture has more than 60 million pixels, which is more than we can draw.',
        )
      : refused();
  }
}
