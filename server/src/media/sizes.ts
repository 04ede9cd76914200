import { SHAPES, SHAPE_NAMES, cropFor, type PictureSource } from '@keyroster/core';
import type { Db, Queryable, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { planSizes } from '../jobs/queue.js';
import { openPicture } from './open-picture.js';

/** Widths of the copies for the page, in pixels; a copy is never wider than the picture. */
const WIDTHS = [480, 960, 1600] as const;
const MAX_FALLBACK = 1600;

interface Size {
  kind: string;
  type: string;
  width: number;
  height: number;
  bytes: Buffer;
}
interface MediaBytes {
  id: number;
  type: string;
  width: number;
  height: number;
  bytes: Buffer;
  focus_x: number;
  focus_y: number;
}

async function whole(db: Queryable, id: number): Promise<MediaBytes | undefined> {
  return db('media')
    .where({ id })
    .first<MediaBytes | undefined>('id', 'type', 'width', 'height', 'bytes', 'focus_x', 'focus_y');
}

/** Copies for the page as WebP, and one in the picture's own format for browsers that take nothing else. */
async function copies(picture: MediaBytes): Promise<Size[]> {
  const open = () => openPicture(picture.bytes);
  const widths = [...new Set(WIDTHS.map((w) => Math.min(w, picture.width)))];
  const made = await Promise.all(
    widths.map(async (width): Promise<Size> => {
      const { data, info } = await open()
        .resize({ width })
        .webp({ quality: 80 })
        .toBuffer({ resolveWithObject: true });
      return {
        kind: `${info.width}.webp`,
        type: 'image/webp',
        width: info.width,
        height: info.height,
        bytes: data,
      };
    }),
  );
  const png = picture.type === 'image/png';
  const { data, info } = await open()
    .resize({ width: Math.min(MAX_FALLBACK, picture.width) })
    .toFormat(png ? 'png' : 'jpeg', png ? { palette: true } : { quality: 80 })
    .toBuffer({ resolveWithObject: true });
  return [
    ...made,
    {
      kind: png ? 'page.png' : 'page.jpg',
      type: png ? 'image/png' : 'image/jpeg',
      width: info.width,
      height: info.height,
      bytes: data,
    },
  ];
}

/** The three shapes, cut around the focus. */
async function shapes(picture: MediaBytes): Promise<Size[]> {
  return Promise.all(
    SHAPE_NAMES.map(async (name): Promise<Size> => {
      const cut = cropFor(picture.width, picture.height, SHAPES[name], {
        x: picture.focus_x,
        y: picture.focus_y,
      });
      const { data, info } = await openPicture(picture.bytes)
        .extract(cut)
        .resize({ ...SHAPES[name], fit: 'fill', withoutEnlargement: true })
        .flatten({ background: '#ffffff' })
        .jpeg({ quality: 82 })
        .toBuffer({ resolveWithObject: true });
      return { kind: `${name}.jpg`, type: 'image/jpeg', width: info.width, height: info.height, bytes: data };
    }),
  );
}

async function storeSizes(db: Db | Trx, id: number, sizes: readonly Size[]): Promise<void> {
  // The picture first: moving its focus locks it, and would wait for the sizes.
  await db('media')
    .where({ id })
    .update({ sizes_at: db.raw('clock_timestamp()') });
  await db('media_sizes')
    .insert(sizes.map((s) => ({ ...s, media_id: id })))
    .onConflict(['media_id', 'kind'])
    .merge();
}

/** Makes a picture's sizes. Run twice, it makes the same again. */
export async function makeSizes(db: Db, id: number): Promise<void> {
  const picture = await whole(db, id);
  if (!picture) return;
  const made = [...(await copies(picture)), ...(await shapes(picture))];
  await inTransaction(db, (trx) => storeSizes(trx, id, made));
}

/** Cuts the shapes again, after the focus has moved. */
export async function cutShapes(trx: Trx, id: number): Promise<void> {
  const picture = await whole(trx, id);
  if (picture) await storeSizes(trx, id, await shapes(picture));
}

export async function planMissingSizes(db: Db): Promise<void> {
  const ids = await db('media').whereNull('sizes_at').orderBy('id').limit(20_000).pluck<number[]>('id');
  for (let i = 0; i < ids.length; i += 500)
    await inTransaction(db, async (trx) => {
      for (const id of ids.slice(i, i + 500)) await planSizes(trx, id);
    });
}

export const mediaSrc = (id: number) => `/media/${id}`;

/**
 * Sources of pictures by id, for rendering: the copy for the page with its lighter ones, or the picture
 * itself until they are made. `base` makes them absolute.
 */
export async function pictureSources(
  db: Queryable,
  ids: readonly number[],
  base = '',
): Promise<(id: number) => PictureSource | undefined> {
  if (ids.length === 0) return () => undefined;
  const rows = await db('media')
    .whereIn('id', [...ids])
    .select<{ id: number; width: number; height: number }[]>('id', 'width', 'height');
  const sizes = await db('media_sizes')
    .whereIn('media_id', [...ids])
    .whereRaw(`kind ~ '^(\\d+\\.webp|page\\.)'`)
    .orderBy('width')
    .select<{ media_id: number; kind: string; width: number; height: number }[]>(
      'media_id',
      'kind',
      'width',
      'height',
    );
  const found = new Map(
    rows.map((row): [number, PictureSource] => {
      const src = `${base}${mediaSrc(row.id)}`;
      const own = sizes.filter((s) => s.media_id === row.id);
      const page = own.find((s) => s.kind.startsWith('page.'));
      const webp = own.filter((s) => s.kind.endsWith('.webp'));
      if (!page || webp.length === 0) return [row.id, { src, width: row.width, height: row.height }];
      return [
        row.id,
        {
          src: `${src}/${page.kind}`,
          width: page.width,
          height: page.height,
          sources: [
            { type: 'image/webp', srcset: webp.map((s) => `${src}/${s.kind} ${s.width}w`).join(', ') },
          ],
        },
      ];
    }),
  );
  return (id) => found.get(id);
}
