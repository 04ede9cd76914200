import type { PieceRestore, Rebuild } from '@keyroster/contract';
import { usedNow, type PieceAsk } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { type WholePostRow } from '../posts/store.js';
import { piecesOf, sentencesIn } from '../work/computing.js';
import { postToMakeOf, textsAt } from './source.js';
import {
  type PieceContentKept,
  type PieceRow,
  type ReadyChange,
  findPiece,
  lockPiece,
  mustBeOpen,
  outletRow,
  writePiece,
} from './piece-store.js';
import { madeFields, pieceToMake } from './pieces.js';
import { sameSentences, type PostSentences } from './same-sentences.js';

/**
 * Builds a piece again from the post as it is now, without keeping it: that may take long, so nothing is held
 * meanwhile. A person's words are written over only when that is said.
 */
export async function prepareRebuild(
  db: Queryable,
  person: CurrentPerson,
  id: number,
  ifMatch: number | null,
  { instruction, only, another, overwrite }: Rebuild,
): Promise<ReadyChange> {
  const { piece, post } = await findPiece(db, person, id, ifMatch);
  await mustBeOpen(db, person, piece, post);
  if (piece.edited && !overwrite)
    throw new ProblemError(
      'demands',
      'Its words were edited by hand. Building it again would write over them; the present ' +
        'version would be kept among the earlier ones.',
    );
  const source = await postToMakeOf(db, post);
  const again = only === undefined && instruction === undefined && !another;
  const now = again || another ? await sentencesIn(source) : null;
  const outlet = await outletRow(db, person.blogId, piece.outlet_id);
  const from = again ? await sameSentences(db, piece, now!) : (only ?? null);
  const earlier = another ? await earlierMade(db, piece, post, now!) : [];
  const ask = {
    kind: piece.kind,
    instruction: instruction ?? piece.instruction,
    shape: piece.shape,
    otherIds: piece.other_ids,
  };
  const toMake = await pieceToMake(db, person.blogId, outlet, ask, { only: from, earlier });
  const [asked, chosen] = await piecesOf(source, [toMake, { ...toMake, only: null, earlier: [] }]);
  // Where the sentences it was built from are gone the engine chooses again, unless a person shaded them.
  const answer = !asked!.ok && only === undefined && !another ? chosen! : asked!;
  if (!answer.ok) throw new ProblemError('invalid', `${answer.sentence} The piece is as it was.`);
  const fields = {
    ...madeFields(answer.piece),
    instruction: ask.instruction,
    source_version: post.version,
    edited: false,
  };
  return { version: piece.version, fields };
}

/** Keeps a piece that was built again; refused when somebody changed it in between. */
export async function storeRebuilt(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  { version, fields }: ReadyChange,
): Promise<number> {
  const { piece, post } = await lockPiece(trx, person, id, version);
  await mustBeOpen(trx, person, piece, post);
  await writePiece(trx, person, piece, fields);
  return piece.post_id;
}

/** Versions that the engine made of the post as it stands; another one is to differ from each. */
async function earlierMade(
  db: Queryable,
  piece: PieceRow,
  post: WholePostRow,
  now: PostSentences,
): Promise<NonNullable<PieceAsk['earlier']>> {
  const kept = await db('piece_versions')
    .where({ piece_id: piece.id })
    .orderBy('version')
    .pluck<PieceContentKept[]>('content');
  const texts = await textsAt(
    db,
    piece.post_id,
    kept.map((k) => k.source_version),
  );
  return kept
    .filter((k) => !k.edited)
    .map((k) => ({
      parts: k.parts,
      words: k.words,
      used: k.source_version === post.version ? k.used : usedNow(texts.get(k.source_version)!, k.used, now),
    }));
}

/** Brings an earlier version back, as a version of its own. */
export async function restorePiece(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  ifMatch: number | null,
  { version }: PieceRestore,
): Promise<number> {
  const { piece, post } = await lockPiece(trx, person, id, ifMatch);
  await mustBeOpen(trx, person, piece, post);
  const kept = await trx('piece_versions')
    .where({ piece_id: id, version })
    .first<{ content: PieceContentKept } | undefined>('content');
  if (!kept) throw notFound('That version');
  await writePiece(trx, person, piece, kept.content);
  return piece.post_id;
}
