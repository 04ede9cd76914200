import { Document, Packer, Paragraph, TextRun } from 'docx';
import { pictureIds } from '@keyroster/core';
import type { Reader } from '../db/connect.js';
import { openPicture } from '../media/keep-picture.js';
import type { WholePostRow } from '../posts/store.js';
import type { Makers } from './export.js';
import { Manuscript, type Picture } from './manuscript.js';
import { STYLES } from './word-styles.js';

/** Pictures are set to the width of the column, in pixels at 96 to the inch. */
const COLUMN = 600;
/** Pictures small enough for a manuscript. */
async function picturesOf(db: Reader, ids: readonly number[]): Promise<Map<number, Picture>> {
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

/**
 * The post as a Word document: its structure in the processor's own styles, so that it can be brought in
 * again.
 */
export async function makeDocx(db: Reader, row: WholePostRow, makers: Makers | null): Promise<Buffer> {
  const pictures = await picturesOf(db, [
    ...pictureIds(row.body),
    ...(row.lead_media_id === null ? [] : [row.lead_media_id]),
  ]);
  const manuscript = new Manuscript(pictures, makers);
  const children = [
    new Paragraph({ style: 'Title', children: [new TextRun(row.title)] }),
    ...(row.subtitle ? [new Paragraph({ style: 'Subtitle', children: [new TextRun(row.subtitle)] })] : []),
    ...(row.lead_media_id === null
      ? []
      : manuscript.picture({ type: 'picture', attrs: { media: row.lead_media_id, alt: row.lead_alt } })),
    ...manuscript.blocks(row.body.content),
  ];
  const document = new Document({
    title: row.title,
    creator: row.byline_name ?? '',
    description: row.excerpt,
    styles: STYLES,
    numbering: { config: manuscript.numbering },
    sections: [{ children }],
  });
  return Packer.toBuffer(document);
}
