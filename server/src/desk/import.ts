import {
  bodyText,
  formatList,
  formatReport,
  hasSuggestions,
  placePictures,
  suggestedBy,
  type SuggestionMaker,
} from '@keyroster/core';
import type { ImportedView } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import type { UploadedFile } from '../http/handlers.js';
import { ProblemError } from '../http/problem.js';
import { storeDrawn, redraw, type Drawn } from '../media/store-picture.js';
import type { RunOptions } from '../work/pool.js';
import { readInWorker } from '../work/documents.js';
import type { ReadText } from '../documents/read-text.js';

const MAX_PICTURES = 60;

/** A file that was read, with its pictures drawn; nothing of it is kept yet. */
export interface ReadFile extends Omit<ReadText, 'pictures'> {
  name: string;
  pictures: { placeholder: number; drawn: Drawn | null }[];
}

/**
 * Reads a file as a post, and draws its pictures. Slow: done before there is a transaction. Once `signal` says that its
 * sender has gone, it ends, and nothing of it is kept.
 */
export async function readFile(
  file: UploadedFile,
  options: Pick<RunOptions, 'onPlace' | 'signal'> = {},
): Promise<ReadFile> {
  const read = await readInWorker(file, options);
  const pictures: ReadFile['pictures'] = [];
  for (const [i, { placeholder, dataUri }] of read.pictures.entries()) {
    options.signal?.throwIfAborted();
    const bytes = Buffer.from(dataUri.slice(dataUri.indexOf(',') + 1), 'base64');
    const drawn = i < MAX_PICTURES ? await redraw(bytes).catch(nullIfRefused) : null;
    pictures.push({ placeholder, drawn });
  }
  options.signal?.throwIfAborted();
  return { ...read, name: file.name, pictures };
}

function nullIfRefused(error: unknown): null {
  if (error instanceof ProblemError) return null;
  throw error;
}

/**
 * Keeps the pictures of a file that was read in the library, and gives the text with them in their places. The
 * result is not stored in any post; the desk shows it, and it is stored like any text.
 */
export async function storeImport(
  trx: Trx,
  person: CurrentPerson,
  { pictures, report, authors, ...read }: ReadFile,
): Promise<ImportedView> {
  const ids = new Map<number, number>();
  for (const { placeholder, drawn } of pictures)
    if (drawn) ids.set(placeholder, (await storeDrawn(trx, person, drawn)).id);
  const lost = pictures.length - ids.size;
  if (lost > 0) {
    report.remarks.push(
      lost === 1
        ? 'One picture could not be read and was left out.'
        : `${lost} pictures could not be read and were left out.`,
    );
    report.kept.picture = Math.max(0, (report.kept.picture ?? 0) - lost);
  }
  const placed = placePictures(read.body, ids);
  const suggested = hasSuggestions(placed);
  const body = suggested ? suggestedBy(placed, await personOf(trx, person, authors)) : placed;
  if (suggested)
    report.remarks.push(
      `Tracked changes are suggestions here, of ${formatList(authors.map((name) => name || 'nobody named'))}.`,
    );
  if (bodyText(body) === '' && ids.size === 0)
    throw new ProblemError('wrong-file', `There is no text in “${read.name}”.`);
  const { title, excerpt, texts = {} } = read;
  return { title, excerpt, texts, body, report, sentence: formatReport(report) };
}

/** Who suggests something that was imported: the person with that name here, or else the importer. */
async function personOf(
  trx: Trx,
  person: CurrentPerson,
  authors: readonly string[],
): Promise<(maker: SuggestionMaker) => number> {
  const people = await trx('people as p')
    .join('memberships as m', 'm.person_id', 'p.id')
    .where('m.blog_id', person.blogId)
    .select<{ id: number; name: string }[]>('p.id', 'p.name');
  const ids = authors.map(
    (name) => people.find((p) => p.name.toLowerCase() === name.toLowerCase())?.id ?? person.id,
  );
  return ({ personId }) => ids[personId - 1] ?? person.id;
}
