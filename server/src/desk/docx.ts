import { pictureIds } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { openPicture } from '../media/open-picture.js';
import { underTitle } from '../posts/columns.js';
import type { WholePostRow } from '../posts/store.js';
import type { Picture } from '../documents/manuscript.js';
import type { DocxAsk } from '../documents/write-docx.js';
import { docxOf } from '../work/computing.js';

/** Pictures are set to the width of the column, in pixels at 96 to the inch. */
const COLUMN = 600;
/** Pictures small enough for a manuscript. */
async function picturesOf(db: Queryable, ids: readonly number[]): Promise<Map<number, Picture>> {
  const found = new Map<number, Picture>();
  for (const id of ids) {
    const row = await db('media').where({ id }).first<{ bytes: Buffer } | undefined>('bytes');
    if (!row) continue;
    const { data, info } = await openPicture(row.bytes)
      .resize({ width: COLUMN * 2, withoutEnlargement: true })
      .flatten({ background: '#ffffff' })
      .jpeg({ quality: 80 })
      .toBuffer({ resolveWithObject: true });
    const width = Math.min(COLUMN, info.width);
    found.set(id, { data, width, height: Math.max(1, Math.round((info.height * width) / info.width)) });
  }
  return found;
}

/** The post as a Word document, packed in another thread. */
export async function makeDocx(db: Queryable, row: WholePostRow, names: DocxAsk['names']): Promise<Buffer> {
  const lead = row.lead_media_id === null ? null : { media: row.lead_media_id, alt: row.lead_alt };
  return docxOf({
    ...{ title: row.title, underTitle: underTitle(row), excerpt: row.excerpt, byline: row.byline_name ?? '' },
    ...{ body: row.body, lead, names },
    pictures: await picturesOf(db, [...pictureIds(row.body), ...(lead ? [lead.media] : [])]),
  });
}
