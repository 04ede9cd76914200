import type { NewPieces, PieceAskView, PieceChanges, PieceTimes, PiecesMade } from '@keyroster/contract';
import { DRAWN_KINDS, altAfter, type MadePiece, type PieceKind } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Reader, Trx } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { emit } from '../live/live.js';
import { asReadersSee } from '../posts/readers-version.js';
import { findPost, type WholePostRow } from '../posts/store.js';
import { dueTimes } from './follow.js';
import type { OutletRow } from './outlets.js';
import { cancelSends, planSends } from './plan.js';
import { piecesOf, toldIn, type PieceToMake } from '../work/computing.js';
import { othersToMakeOf, postToMakeOf } from './source.js';
import { keepVersion, lockPiece, mustBeOpen, outletRow, writePiece } from './piece-store.js';
import { sameSentences } from './rebuild.js';
import { mayMake } from './permissions.js';

const MAX_PIECES = 120;

/** The post of pieces, when the person may make some of it. */
export async function mayMakeOf(db: Reader, person: CurrentPerson, id: number): Promise<WholePostRow> {
  const row = await findPost(db, person.blogId, id);
  if (!row) throw notFound('That post');
  if (!mayMake(person, row)) throw notYours('Making pieces of this post');
  return asReadersSee(db, row);
}

/** Makes pieces of a post, those that can be made; says of the others why not. */
export async function makePieces(
  trx: Trx,
  person: CurrentPerson,
  postId: number,
  { asks }: NewPieces,
): Promise<PiecesMade> {
  const post = await mayMakeOf(trx, person, postId);
  const [{ count } = { count: '0' }] = await trx('pieces')
    .where({ post_id: postId })
    .count<{ count: string }[]>('id as count');
  if (Number(count) + asks.length > MAX_PIECES)
    throw new ProblemError('invalid', `A post has ${MAX_PIECES} pieces at most.`);
  const zone = (await trx('blogs').where({ id: person.blogId }).first<{ zone: string }>('zone'))!.zone;
  const done: PiecesMade = { made: [], refused: [] };
  const open = [];
  for (const ask of asks) {
    const outlet = await outletRow(trx, person.blogId, ask.outletId);
    if (outlet.closed_at === null)
      open.push({ ask, outlet, toMake: await pieceToMake(trx, person.blogId, outlet, ask) });
    else done.refused.push(`${outlet.name} is closed.`);
  }
  const answers = await piecesOf(
    await postToMakeOf(trx, post),
    open.map((o) => o.toMake),
  );
  for (const [i, { ask, outlet }] of open.entries()) {
    const answer = answers[i]!;
    if (!answer.ok) {
      done.refused.push(
        `${ask.kind[0]!.toUpperCase()}${ask.kind.slice(1)} for ${outlet.name}: ${answer.sentence}`,
      );
      continue;
    }
    const [made] = await trx('pieces')
      .insert({
        blog_id: person.blogId,
        post_id: postId,
        outlet_id: outlet.id,
        kind: ask.kind,
        instruction: ask.instruction,
        style: ask.style,
        shape: ask.shape,
        other_ids: ask.otherIds ?? [],
        ...madeFields(answer.piece),
        source_version: post.version,
        timing: JSON.stringify(ask.timing),
        ...dueTimes(ask.timing, { ...post, zone }),
        made_by: person.id,
      })
      .returning<{ id: number }[]>('id');
    await keepVersion(trx, made!.id, person.id);
    done.made.push(made!.id);
  }
  if (done.made.length > 0)
    await emit(trx, { blogId: person.blogId, kind: 'outlet', postId, personId: person.id });
  return done;
}

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
  db: Reader,
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

/** Leaves a piece as it is, and takes it as made from the post as it stands. */
export async function keepPiece(trx: Trx, person: CurrentPerson, id: number): Promise<number> {
  const { piece, post } = await lockPiece(trx, person, id, null);
  const used = (await sameSentences(trx, piece, await toldIn(await postToMakeOf(trx, post)))) ?? [];
  await trx('pieces')
    .where({ id })
    .update({ source_version: post.version, used, version: piece.version + 1 });
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
