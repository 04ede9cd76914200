import type { PieceRestore, Rebuild } from '@keyroster/contract';
import { makePiece, usedNow, type PieceAsk, type RankedSource } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Reader, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { type WholePostRow } from '../posts/store.js';
import { rankedPost, textsAt } from './source.js';
import {
  type PieceContentKept,
  type PieceRow,
  lockPiece,
  mustBeOpen,
  outletRow,
  writePiece,
} from './piece-store.js';
import { engineAsk, madeFields } from './pieces.js';

/**
 * Builds a piece again from the post as it is now. A person's words are written over only when that is said.
 */
export async function rebuildPiece(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  ifMatch: number | null,
  { instruction, only, another, overwrite }: Rebuild,
): Promise<number> {
  const { piece, post } = await lockPiece(trx, person, id, ifMatch);
  await mustBeOpen(trx, person, piece, post);
  if (piece.edited && !overwrite)
    throw new ProblemError(
      'demands',
      'Its words were edited by hand. Building it again would write over them; the present ' +
        'version would be kept among the earlier ones.',
    );
  const ranked = await rankedPost(trx, post);
  const outlet = await outletRow(trx, person.blogId, piece.outlet_id);
  const from =
    only === undefined && instruction === undefined && !another
      ? await sameSentences(trx, piece, ranked)
      : (only ?? null);
  const earlier = another ? await earlierMade(trx, piece, post, ranked) : [];
  const ask = {
    kind: piece.kind,
    instruction: instruction ?? piece.instruction,
    shape: piece.shape,
    otherIds: piece.other_ids,
  };
  let answer = makePiece(ranked, await engineAsk(trx, person.blogId, outlet, ask, { only: from, earlier }));
  // Where the sentences it was built from are gone the engine chooses anew, unless a person shaded them.
  if (!answer.ok && only === undefined && !another)
    answer = makePiece(ranked, await engineAsk(trx, person.blogId, outlet, ask));
  if (!answer.ok) throw new ProblemError('invalid', `${answer.sentence} The piece is as it was.`);
  await writePiece(trx, person, piece, {
    ...madeFields(answer.piece),
    instruction: ask.instruction,
    source_version: post.version,
    edited: false,
  });
  return piece.post_id;
}

/**
 * The sentences of the post that a piece was built from, where they are now. Pieces whose sentences all stand
 * are built from the same.
 */
export async function sameSentences(
  db: Reader,
  piece: PieceRow,
  ranked: RankedSource,
): Promise<number[] | null> {
  const then = (await textsAt(db, piece.post_id, [piece.source_version])).get(piece.source_version)!;
  const now = usedNow(then, piece.used, ranked.source).filter((at) => ranked.ranked.some((r) => r.at === at));
  return now.length > 0 ? now : null;
}

/** Versions that the engine made of the post as it stands; another one is to differ from each. */
async function earlierMade(
  db: Reader,
  piece: PieceRow,
  post: WholePostRow,
  ranked: RankedSource,
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
      used:
        k.source_version === post.version
          ? k.used
          : usedNow(texts.get(k.source_version)!, k.used, ranked.source),
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
