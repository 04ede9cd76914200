import { Router } from 'express';
import type { Db, Reader } from '../db/connect.js';
import type { PictureSource } from '@keyroster/core';
import type { Handlers } from '../http/routing.js';
import { keepPicture, mediaSrc } from './keep-picture.js';

export const mediaHandlers: Handlers = {
  'media.add': ({ trx, person, file }) => keepPicture(trx, person, file.bytes),
};

/** Pictures for everyone, for good: an id never changes its bytes. */
export function mediaFiles(db: Db): Router {
  const router = Router();
  router.get('/:id', async (req, res) => {
    const id = /^\d{1,9}$/.test(req.params.id) ? Number(req.params.id) : 0;
    const row = await db('media').where({ id }).first<{ bytes: Buffer; type: string; sha256: string } | undefined>('bytes', 'type', 'sha256');
    if (!row) {
      res.status(404).type('text').send('There is no such picture.');
      return;
    }
    res.set({ 'Content-Type': row.type, 'Cache-Control': 'public, max-age=31536000, immutable', ETag: `"${row.sha256.slice(0, 32)}"`, 'X-Content-Type-Options': 'nosniff', 'Content-Security-Policy': "default-src 'none'" });
    if (req.fresh) res.status(304).end();
    else res.send(row.bytes);
  });
  return router;
}

/** Sources of pictures by id, for rendering. `base` makes them absolute. */
export async function pictureSources(db: Reader, ids: readonly number[], base = ''): Promise<(id: number) => PictureSource | undefined> {
  const rows = ids.length === 0 ? [] : await db('media').whereIn('id', [...ids]).select<{ id: number; width: number; height: number }[]>('id', 'width', 'height');
  const found = new Map(rows.map((r) => [r.id, { src: `${base}${mediaSrc(r.id)}`, width: r.width, height: r.height }]));
  return (id) => found.get(id);
}
