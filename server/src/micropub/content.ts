import {
  bodyText,
  formatReport,
  plainToBody,
  type BodyNode,
  type EntryParts,
  type EntryPhoto,
} from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Db, Queryable } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { storeImport, readFile, type ReadFile } from '../desk/import.js';
import { readBody } from '../desk/store-body.js';

/** A text that was sent, read but not kept. */
export type ReadContent = { kind: 'plain'; body: BodyNode } | { kind: 'html'; read: ReadFile };

/** Reads what was sent as content; slow: done before there is a transaction. */
export async function readContent(content: EntryParts['content']): Promise<ReadContent | null> {
  if (!content || content.text.trim() === '') return null;
  if (content.kind === 'plain') return { kind: 'plain', body: plainToBody(content.text) };
  const bytes = Buffer.from(content.text);
  return { kind: 'html', read: await readFile({ name: 'content.html', bytes }) };
}

/** A picture of the library, where an address is that of one; pictures elsewhere are not fetched. */
export async function ownPicture(
  db: Queryable,
  blogId: number,
  publicUrl: string,
  { url, alt }: EntryPhoto,
): Promise<Picture | null> {
  const id = url.startsWith(`${publicUrl}/media/`)
    ? /^\d{1,9}$/.exec(url.slice(`${publicUrl}/media/`.length))?.[0]
    : undefined;
  const row =
    id === undefined
      ? undefined
      : await db('media')
          .where({ blog_id: blogId, id: Number(id) })
          .whereNull('binned_at')
          .first<{ id: number; alt: string } | undefined>('id', 'alt');
  return row ? { media: row.id, alt: alt || row.alt } : null;
}

export interface Picture {
  media: number;
  alt: string;
}
export interface TextMade {
  body: BodyNode;
  words: number;
  text: string;
}

/**
 * Keeps the pictures that are in what was sent, in the library, and gives its body; and what of it could not be kept,
 * in sentences. Done before there is a transaction for the post: what is left to do then is little.
 */
export async function storeContent(
  db: Db,
  person: CurrentPerson,
  content: ReadContent | null,
): Promise<{ body: BodyNode; remarks: string[] } | null> {
  if (content?.kind !== 'html') return content && { body: content.body, remarks: [] };
  const { body, report } = await inTransaction(db, (trx) => storeImport(trx, person, content.read));
  const isWhole = Object.keys(report.dropped).length === 0 && report.remarks.length === 0;
  return { body, remarks: isWhole ? [] : [formatReport(report)] };
}

/** A body with pictures at its end, as it can be stored. */
export async function withPictures(body: BodyNode, pictures: readonly Picture[]): Promise<TextMade> {
  const blocks = pictures.map(({ media, alt }) => ({
    type: 'picture',
    attrs: { media, alt, caption: '', credit: '', size: 'column', side: 'none' },
  }));
  const whole = { ...body, content: [...(body.content ?? []), ...blocks] };
  return { ...(await readBody(whole)), text: bodyText(whole) };
}
