import { isDesk, type CardStyle, type PieceKind, type Shape, type Timing } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { emit } from '../live/live.js';
import { asReadersSee } from '../posts/readers-version.js';
import { factsOf, findPost, type WholePostRow } from '../posts/store.js';
import type { OutletRow } from '../outlets/outlet-row.js';
import { mayMake } from '../outlets/permissions.js';

/** Versions of a piece that are kept, and pieces of one post. */
const MAX_VERSIONS = 60;

export interface PieceRow {
  id: number;
  blog_id: number;
  post_id: number;
  outlet_id: number;
  kind: PieceKind;
  instruction: string;
  style: CardStyle;
  shape: Shape;
  other_ids: number[];
  subject: string;
  parts: string[];
  words: string;
  alt: string;
  tags: string[];
  remarks: string[];
  used: number[];
  source_version: number;
  edited: boolean;
  timing: Timing;
  due_local: string | null;
  due_at: string | null;
  version: number;
  made_by: number | null;
}

/** What a version of a piece keeps. */
export type PieceContentKept = Pick<
  PieceRow,
  | 'instruction'
  | 'style'
  | 'shape'
  | 'subject'
  | 'parts'
  | 'words'
  | 'alt'
  | 'tags'
  | 'remarks'
  | 'used'
  | 'source_version'
  | 'edited'
>;

const CONTENT = [
  'instruction',
  'style',
  'shape',
  'subject',
  'parts',
  'words',
  'alt',
  'tags',
  'remarks',
  'used',
  'source_version',
  'edited',
] as const;

/** What becomes of a piece, worked out of one version of it; it is written on that version or not at all. */
export interface ReadyChange {
  version: number;
  fields: Partial<PieceRow>;
}

/** A piece with its post, for who may make such. Refused when it is not the version that was seen. */
export async function findPiece(
  db: Queryable,
  person: CurrentPerson,
  id: number,
  ifMatch: number | null,
): Promise<{ piece: PieceRow; post: WholePostRow }> {
  const piece = await db('pieces').where({ blog_id: person.blogId, id }).first<PieceRow | undefined>();
  if (!piece) throw notFound('That piece');
  const post = await findPost(db, person.blogId, piece.post_id);
  if (!post) throw new ProblemError('invalid', 'Its post lies in the bin.');
  if (!mayMake(person, post)) throw notYours('Changing this piece');
  if (ifMatch !== null && ifMatch !== piece.version)
    throw new ProblemError(
      'version-conflict',
      'Somebody changed this piece in the meantime. Look at it again; yours was not stored.',
      { version: piece.version } as never,
    );
  return { piece, post: await asReadersSee(db, post) };
}

/** The same, with the piece's row held. */
export async function lockPiece(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  ifMatch: number | null,
): Promise<{ piece: PieceRow; post: WholePostRow }> {
  await trx('pieces').where({ blog_id: person.blogId, id }).forUpdate().first('id');
  return findPiece(trx, person, id, ifMatch);
}

/** What went out is what was sent: it is changed no more. A contributor changes nothing that was approved. */
export async function mustBeOpen(
  db: Queryable,
  person: CurrentPerson,
  piece: PieceRow,
  post: WholePostRow,
): Promise<void> {
  const send = await db('sends')
    .where({ piece_id: piece.id })
    .forUpdate()
    .first<{ state: string } | undefined>('state');
  if (send && (send.state === 'sent' || send.state === 'sending' || send.state === 'unsure'))
    throw new ProblemError('invalid', 'It is out, or on its way. Make a new piece.');
  if (send && !isDesk(person, factsOf(post))) throw notYours('Changing a piece that was approved');
}

export async function outletRow(db: Queryable, blogId: number, id: number): Promise<OutletRow> {
  const row = await db('outlets').where({ blog_id: blogId, id }).first<OutletRow | undefined>();
  if (!row) throw new ProblemError('invalid', 'That outlet is not on this blog.');
  return row;
}

export async function storeVersion(trx: Trx, id: number, personId: number | null): Promise<void> {
  const row = (await trx('pieces').where({ id }).first<PieceRow>())!;
  await trx('piece_versions')
    .insert({
      piece_id: id,
      version: row.version,
      person_id: personId,
      content: JSON.stringify(Object.fromEntries(CONTENT.map((c) => [c, row[c]]))),
    })
    .onConflict(['piece_id', 'version'])
    .ignore();
  await trx('piece_versions')
    .where({ piece_id: id })
    .where('version', '<=', row.version - MAX_VERSIONS)
    .delete();
}

export async function writePiece(
  trx: Trx,
  person: CurrentPerson,
  piece: PieceRow,
  fields: object,
): Promise<void> {
  await trx('pieces')
    .where({ id: piece.id })
    .update({ ...fields, version: piece.version + 1 });
  await storeVersion(trx, piece.id, person.id);
  await emit(trx, { blogId: piece.blog_id, kind: 'outlet', postId: piece.post_id, personId: person.id });
}
