import type { NewPieces, PieceAskView, PieceChanges, PieceTimes, PiecesMade } from '@keyroster/contract';
import { DRAWN_KINDS, altAfter, type MadePiece, type MakeAnswer, type PieceKind } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { emit } from '../live/live.js';
import { asReadersSee } from '../posts/readers-version.js';
import { findPost, lockPosts, type WholePostRow } from '../posts/store.js';
import { dueTimes } from './follow.js';
import type { OutletRow } from '../outlets/outlet-row.js';
import { cancelSends, planSends } from '../outlets/plan.js';
import { piecesOf, sentencesIn, type PieceToMake } from '../work/computing.js';
import { othersToMakeOf, postToMakeOf } from './source.js';
import {
  type ReadyChange,
  findPiece,
  storeVersion,
  lockPiece,
  mustBeOpen,
  outletRow,
  writePiece,
} from './piece-store.js';
import { sameSentences } from './same-sentences.js';
import { mayMake } from '../outlets/permissions.js';

const MAX_PIECES = 120;

/** The post of pieces, when the person may make some of it. */
export async function mayMakeOf(db: Queryable, person: CurrentPerson, id: number): Promise<WholePostRow> {
  const row = await findPost(db, person.blogId, id);
  if (!row) throw notFound('That post');
  if (!mayMake(person, row)) throw notYours('Making pieces of this post');
  return asReadersSee(db, row);
}

type Ask = NewPieces['asks'][number];

/** Pieces that were made and are kept nowhere yet: of the post as it was then, ask by ask. */
export interface ReadyPieces {
  post: WholePostRow;
  answers: { ask: Ask; answer: MakeAnswer }[];
}

async function mustHaveRoom(db: Queryable, postId: number, more: number): Promise<void> {
  const [{ count } = { count: '0' }] = await db('pieces')
    .where({ post_id: postId })
    .count<{ count: string }[]>('id as count');
  if (Number(count) + more > MAX_PIECES)
    throw new ProblemError('invalid', `A post has ${MAX_PIECES} pieces at most.`);
}

/** Makes pieces of a post without keeping them. May take long, so nothing is held meanwhile. */
export async function preparePieces(
  db: Queryable,
  person: CurrentPerson,
  postId: number,
  { asks }: NewPieces,
): Promise<ReadyPieces> {
  const post = await mayMakeOf(db, person, postId);
  // Looked at again when they are kept; what cannot be kept in any case is not made first.
  await mustHaveRoom(db, postId, asks.length);
  const toMake: PieceToMake[] = [];
  for (const ask of asks)
    toMake.push(await pieceToMake(db, person.blogId, await outletRow(db, person.blogId, ask.outletId), ask));
  const answers = await piecesOf(await postToMakeOf(db, post), toMake);
  return { post, answers: asks.map((ask, i) => ({ ask, answer: answers[i]! })) };
}

/** Keeps pieces that were made, those that could be; says of the others why not. */
export async function storePieces(
  trx: Trx,
  person: CurrentPerson,
  { post, answers }: ReadyPieces,
): Promise<PiecesMade> {
  // Held, so that two who make pieces at once are counted one after the other.
  await lockPosts(trx, [post.id]);
  const now = await mayMakeOf(trx, person, post.id);
  await mustHaveRoom(trx, post.id, answers.length);
  const zone = (await trx('blogs').where({ id: person.blogId }).first<{ zone: string }>('zone'))!.zone;
  const done: PiecesMade = { made: [], refused: [] };
  for (const { ask, answer } of answers) {
    const outlet = await outletRow(trx, person.blogId, ask.outletId);
    if (outlet.closed_at !== null) {
      done.refused.push(`${outlet.name} is closed.`);
      continue;
    }
    if (!answer.ok) {
      done.refused.push(
        `${ask.kind[0]!.toUpperCase()}${ask.kind.slice(1)} for ${outlet.name}: ${answer.sentence}`,
      );
      continue;
    }
    const [made] = await trx('pieces')
      .insert({
        blog_id: person.blogId,
        post_id: post.id,
        outlet_id: outlet.id,
        kind: ask.kind,
        instruction: ask.instruction,
        style: ask.style,
        shape: ask.shape,
        other_ids: ask.otherIds ?? [],
        ...madeFields(answer.piece),
        source_version: post.version,
        timing: JSON.stringify(ask.timing),
        ...dueTimes(ask.timing, { ...now, zone }),
        made_by: person.id,
      })
      .returning<{ id: number }[]>('id');
    await storeVersion(trx, made!.id, person.id);
    done.made.push(made!.id);
  }
  if (done.made.length > 0)
    await emit(trx, { blogId: person.blogId, kind: 'outlet', postId: post.id, personId: person.id });
  return done;
}

/** Both at once, where nobody waits for the connection. */
export const makePieces = async (
  trx: Trx,
  person: CurrentPerson,
  postId: number,
  asks: NewPieces,
): Promise<PiecesMade> => storePieces(trx, person, await preparePieces(trx, person, postId, asks));

export const madeFields = ({ subject, parts, words, alt, tags, used, remarks }: MadePiece) => ({
  subject,
  parts,
  words,
  alt,
  tags,
  used,
  remarks,
});

export async function pieceToMake(
  db: Queryable,
  blogId: number,
  outlet: OutletRow,
  ask: Pick<PieceAskView, 'kind' | 'instruction' | 'shape' | 'otherIds'>,
  more: Pick<PieceToMake, 'only' | 'earlier'> = {},
): Promise<PieceToMake> {
  return {
    kind: ask.kind,
    outlet: { name: outlet.name, limits: outlet.limits },
    instruction: ask.instruction,
    shape: ask.shape,
    others: ask.otherIds?.length ? await othersToMakeOf(db, blogId, ask.otherIds) : [],
    ...more,
  };
}

/** Edits a piece by hand: from then on its words are the person's. Its time may change, too. */
export async function changePiece(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  ifMatch: number | null,
  changes: PieceChanges,
): Promise<number> {
  const { piece, post } = await lockPiece(trx, person, id, ifMatch);
  await mustBeOpen(trx, person, piece, post);
  const { timing, ...fields } = changes;
  const parts = fields.parts?.map((p) =>
    p
      .normalize('NFC')
      .replace(/\r\n?/g, '\n')
      .replace(/[\u0000\ud800-\udfff]/gu, '')
      .trimEnd(),
  );
  const words = (['subject', 'parts', 'words', 'alt', 'tags'] as const).some(
    (f) =>
      fields[f] !== undefined &&
      JSON.stringify(f === 'parts' ? parts : fields[f]) !== JSON.stringify(piece[f]),
  );
  // What is read out goes with what is drawn, unless it is worded otherwise in the same breath.
  if (fields.words !== undefined && (fields.alt === undefined || fields.alt === piece.alt))
    fields.alt = altAfter(piece.alt, piece.words, fields.words);
  const zone = (await trx('blogs').where({ id: person.blogId }).first<{ zone: string }>('zone'))!.zone;
  const due = timing ? dueTimes(timing, { ...post, zone }) : null;
  await writePiece(trx, person, piece, {
    ...fields,
    ...(parts ? { parts } : {}),
    ...(words ? { edited: true } : {}),
    ...(timing ? { timing: JSON.stringify(timing), ...due } : {}),
  });
  if (due) await moveSend(trx, piece.id, due.due_at);
  return piece.post_id;
}

/** Times of several pieces of a post, in the order of their numbers, so that two people never wait for each other. */
export async function setTimes(
  trx: Trx,
  person: CurrentPerson,
  postId: number,
  { times }: PieceTimes,
): Promise<void> {
  for (const { pieceId, timing } of [...times].sort((a, b) => a.pieceId - b.pieceId))
    if ((await changePiece(trx, person, pieceId, null, { timing })) !== postId) throw notFound('That piece');
}

/** An approved piece waits for its new time. */
export async function moveSend(trx: Trx, pieceId: number, dueAt: string | null): Promise<void> {
  const [send] = await trx('sends')
    .where({ piece_id: pieceId, state: 'waiting' })
    .update({ due_at: dueAt, next_at: null })
    .returning<{ id: number }[]>('id');
  if (!send) return;
  await cancelSends(trx, [send.id]);
  await planSends(trx, { sendId: send.id });
}

/** Of which sentences of the post as it stands a piece is made. */
export async function prepareKeeping(db: Queryable, person: CurrentPerson, id: number): Promise<ReadyChange> {
  const { piece, post } = await findPiece(db, person, id, null);
  const used = (await sameSentences(db, piece, await sentencesIn(await postToMakeOf(db, post)))) ?? [];
  return { version: piece.version, fields: { source_version: post.version, used } };
}

/** Leaves a piece as it is, and takes it as made from the post as it stands. */
export async function storePiece(
  trx: Trx,
  person: CurrentPerson,
  id: number,
  ready: ReadyChange,
): Promise<number> {
  const { piece } = await lockPiece(trx, person, id, ready.version);
  await trx('pieces')
    .where({ id })
    .update({ ...ready.fields, version: piece.version + 1 });
  await emit(trx, { blogId: piece.blog_id, kind: 'outlet', postId: piece.post_id, personId: person.id });
  return piece.post_id;
}

export async function removePiece(trx: Trx, person: CurrentPerson, id: number): Promise<number> {
  const { piece, post } = await lockPiece(trx, person, id, null);
  await mustBeOpen(trx, person, piece, post);
  const send = await trx('sends').where({ piece_id: id }).first<{ id: number } | undefined>('id');
  if (send) await cancelSends(trx, [send.id]);
  await trx('pieces').where({ id }).delete();
  await emit(trx, { blogId: piece.blog_id, kind: 'outlet', postId: piece.post_id, personId: person.id });
  return piece.post_id;
}

export const isDrawn = (kind: PieceKind) => DRAWN_KINDS.includes(kind);
