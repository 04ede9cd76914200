import {
  bodyText,
  formatReport,
  plainToBody,
  type BodyNode,
  type EntryParts,
  type EntryPhoto,
} from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Reader, Trx } from '../db/connect.js';
import { keepImport, readFile, type ReadFile } from '../desk/import.js';
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
  db: Reader,
  blogId: number,
  publicUrl: string,
  { url, alt }: EntryPhoto,
): Promise<{ media: number; alt: string } | null> {
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

export interface TextMade {
  body: BodyNode;
  words: number;
  text: string;
  /** What of it could not be kept, in sentences; empty when all was. */
  remarks: string[];
}

/** The body of a text that was sent, with pictures at its end; null when there is neither. */
export async function makeText(
  trx: Trx,
  person: CurrentPerson,
  content: ReadContent | null,
  pictures: readonly { media: number; alt: string }[],
): Promise<TextMade | null> {
  if (!content && pictures.length === 0) return null;
  const remarks: string[] = [];
  let body: BodyNode = { type: 'doc', content: [] };
  if (content?.kind === 'plain') body = content.body;
  if (content?.kind === 'html') {
    const kept = await keepImport(trx, person, content.read);
    body = kept.body;
    if (Object.keys(kept.report.dropped).length > 0 || kept.report.remarks.length > 0)
      remarks.push(formatReport(kept.report));
  }
  return { ...(await withPictures(body, pictures)), remarks };
}

/** A body with pictures at its end, as it can be stored. */
export async function withPictures(
  body: BodyNode,
  pictures: readonly { media: number; alt: string }[],
): Promise<Omit<TextMade, 'remarks'>> {
  const blocks = pictures.map(({ media, alt }) => ({
    type: 'picture',
    attrs: { media, alt, caption: '', credit: '', size: 'column', side: 'none' },
  }));
  const whole = { ...body, content: [...(body.content ?? []), ...blocks] };
  return { ...(await readBody(whole)), text: bodyText(whole) };
}
