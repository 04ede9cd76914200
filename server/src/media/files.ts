import { createHash } from 'node:crypto';
import type { FileView } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import type { UploadedFile } from '../http/handlers.js';

/**
 * What a file is, by its first bytes: ISO base media (MP4), EBML (WebM), WebVTT or SubRip captions; null for
 * anything else.
 */
export function kindOfFile(bytes: Buffer): { type: string; bytes: Buffer } | null {
  if (bytes.subarray(4, 8).toString('latin1') === 'ftyp') return { type: 'video/mp4', bytes };
  if (bytes.subarray(0, 4).equals(Buffer.from([0x1a, 0x45, 0xdf, 0xa3])))
    return /webm/.test(bytes.subarray(0, 64).toString('latin1')) ? { type: 'video/webm', bytes } : null;
  if (bytes.length > 1_000_000 || bytes.includes(0)) return null;
  const text = bytes
    .toString('utf8')
    .replace(/^\ufeff/, '')
    .replace(/\r\n?/g, '\n');
  if (/^WEBVTT(?:[ \t\n]|$)/.test(text)) return { type: 'text/vtt', bytes: Buffer.from(text) };
  // SubRip differs from WebVTT in its first line and in the comma of its times.
  if (/^\s*\d+\n\d\d:\d\d:\d\d,\d{3} --> /.test(text))
    return {
      type: 'text/vtt',
      bytes: Buffer.from(`WEBVTT\n\n${text.replace(/(\d\d:\d\d:\d\d),(\d{3})/g, '$1.$2')}`),
    };
  return null;
}

/** Keeps a video or captions, recognised by content. The same file twice is kept once. */
export async function storeFile(trx: Trx, person: CurrentPerson, file: UploadedFile): Promise<FileView> {
  const kind = kindOfFile(file.bytes);
  if (!kind)
    throw new ProblemError(
      'wrong-file',
      `“${file.name}” is neither a video we can keep (MP4 or WebM) nor captions (WebVTT or SubRip).`,
    );
  const sha256 = createHash('sha256').update(kind.bytes).digest('hex');
  const [row] = await trx('files')
    .insert({
      blog_id: person.blogId,
      sha256,
      type: kind.type,
      name: file.name.slice(0, 200),
      size: kind.bytes.length,
      bytes: kind.bytes,
      added_by: person.id,
    })
    .onConflict(['blog_id', 'sha256'])
    .merge(['sha256'])
    .returning<Omit<FileView, 'src'>[]>(['id', 'type', 'name', 'size']);
  return { ...row!, src: fileSrc(row!.id) };
}

export const fileSrc = (id: number) => `/files/${id}`;

/** Sources of videos and captions by id, for rendering. */
export async function fileSources(
  db: Queryable,
  ids: readonly number[],
  base = '',
): Promise<(id: number) => { src: string; type: string } | undefined> {
  const rows =
    ids.length === 0
      ? []
      : await db('files')
          .whereIn('id', [...ids])
          .select<{ id: number; type: string }[]>('id', 'type');
  const found = new Map(rows.map((r) => [r.id, { src: `${base}${fileSrc(r.id)}`, type: r.type }]));
  return (id) => found.get(id);
}
