import type { NewPieces, PieceAskView, PieceChanges, PieceRestore, PiecesMade, Rebuild } from '@keyroster/contract';
import { DRAWN_KINDS, isDesk, isWriter, makePiece, usedNow, type CardStyle, type MadePiece, type PieceAsk, type PieceKind, type RankedSource, type Shape, type Timing } from '@keyroster/core';
import type { CurrentPerson } from '../accounts/who.js';
import type { Reader, Trx } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { tell } from '../live/live.js';
import { factsOf, findPost, type WholePostRow } from '../posts/store.js';
import { dueTimes } from './follow.js';
import type { OutletRow } from './outlets.js';
import { cancelSends, planSends } from './plan.js';
import { rankedOthers, rankedPost, textsAt } from './source.js';

export interface PieceRow {
  id: number; blog_id: number; post_id: number; outlet_id: number; kind: PieceKind; instruction: string; style: CardStyle; shape: Shape; other_ids: number[]; subject: string; parts: string[]; words: string; alt: string;
  tags: string[]; remarks: string[]; used: number[]; source_version: number; edited: boolean; timing: Timing; due_local: string | null; due_at: string | null; version: number; made_by: number | null;
}
/** What a version of a piece keeps. */
export type PieceContentKept = Pick<PieceRow, 'instruction' | 'style' | 'shape' | 'subject' | 'parts' | 'words' | 'alt' | 'tags' | 'remarks' | 'used' | 'source_version' | 'edited'>;
const CONTENT = ['instruction', 'style', 'shape', 'subject', 'parts', 'words', 'alt', 'tags', 'remarks', 'used', 'source_version', 'edited'] as const;

/** Versions of a piece that are kept, and pieces of one post. */
const MOST_VERSIONS = 60;
const MOST_PIECES = 120;

export const mayMake = (person: CurrentPerson, row: WholePostRow) => isDesk(person, factsOf(row)) || (person.role !== 'reader' && person.role !== 'proofreader' && isWriter(person, factsOf(row)));

/** The post of pieces, when the person may make some of it. */
export async function postToMakeOf(db: Reader, person: CurrentPerson, id: number): Promise<WholePostRow> {
  const row = await findPost(db, person.blogId, id);
  if (!row) throw notFound('That post');
  if (!mayMake(person, row)) throw notYours('Making pieces of this post');
  return row;
}

/** A piece with its post, the piece's row held. */
export async function lockPiece(trx: Trx, person: CurrentPerson, id: number, ifMatch: number | null): Promise<{ piece: PieceRow; post: WholePostRow }> {
  const piece = await trx('pieces').where({ blog_id: person.blogId, id }).forUpdate().first<PieceRow | undefined>();
  if (!piece) throw notFound('That piece');
  const post = await findPost(trx, person.blogId, piece.post_id);
  if (!post) throw new ProblemError('invalid', 'Its post lies in the bin.');
  if (!mayMake(person, post)) throw notYours('Changing this piece');
  if (ifMatch !== null && ifMatch !== piece.version) throw new ProblemError('version-conflict', 'Somebody changed this piece in the meantime. Look at it again; yours was not stored.', { version: piece.version } as never);
  return { piece, post };
}

/** What went out is what was sent: it is changed no more. A contributor changes nothing that was approved. */
async function mustBeOpen(trx: Trx, person: CurrentPerson, piece: PieceRow, post: WholePostRow): Promise<void> {
  const send = await trx('sends').where({ piece_id: piece.id }).forUpdate().first<{ state: string } | undefined>('state');
  if (send && (send.state === 'sent' || send.state === 'sending' || send.state === 'unsure')) throw new ProblemError('invalid', 'It is out, or on its way. Make a new piece.');
  if (send && !isDesk(person, factsOf(post))) throw notYours('Changing a piece that was approved');
}

export async function outletRow(db: Reader, blogId: number, id: number): Promise<OutletRow> {
  const row = await db('outlets').where({ blog_id: blogId, id }).first<OutletRow | undefined>();
  if (!row) throw new ProblemError('invalid', 'That outlet is not on this blog.');
  return row;
}

/** Makes pieces of a post, those that can be made; says of the others why not. */
export async function makePieces(trx: Trx, person: CurrentPerson, postId: number, { asks }: NewPieces): Promise<PiecesMade> {
  const post = await postToMakeOf(trx, person, postId);
  const [{ count } = { count: '0' }] = await trx('pieces').where({ post_id: postId }).count<{ count: string }[]>('id as count');
  if (Number(count) + asks.length > MOST_PIECES) throw new ProblemError('invalid', `A post has ${MOST_PIECES} pieces at most.`);
  const ranked = await rankedPost(trx, post);
  const zone = (await trx('blogs').where({ id: person.blogId }).first<{ zone: string }>('zone'))!.zone;
  const done: PiecesMade = { made: [], refused: [] };
  for (const ask of asks) {
    const outlet = await outletRow(trx, person.blogId, ask.outletId);
    if (outlet.closed_at !== null) { done.refused.push(`${outlet.name} is closed.`); continue; }
    const answer = makePiece(ranked, { ...(await engineAsk(trx, person.blogId, outlet, ask)) });
    if (!answer.ok) { done.refused.push(`${ask.kind[0]!.toUpperCase()}${ask.kind.slice(1)} for ${outlet.name}: ${answer.sentence}`); continue; }
    const [made] = await trx('pieces').insert({
      blog_id: person.blogId, post_id: postId, outlet_id: outlet.id, kind: ask.kind, instruction: ask.instruction, style: ask.style, shape: ask.shape, other_ids: ask.otherIds ?? [], ...madeFields(answer.piece),
      source_version: post.version, timing: JSON.stringify(ask.timing), ...dueTimes(ask.timing, { ...post, zone }), made_by: person.id,
    }).returning<{ id: number }[]>('id');
    await keepVersion(trx, made!.id, person.id);
    done.made.push(made!.id);
  }
  if (done.made.length > 0) await tell(trx, { blogId: person.blogId, kind: 'outlet', postId, personId: person.id });
  return done;
}

const madeFields = ({ subject, parts, words, alt, tags, used, remarks }: MadePiece) => ({ subject, parts, words, alt, tags, used, remarks });

async function engineAsk(db: Reader, blogId: number, outlet: OutletRow, ask: Pick<PieceAskView, 'kind' | 'instruction' | 'shape' | 'otherIds'>, more: Partial<PieceAsk> = {}): Promise<PieceAsk> {
  return { kind: ask.kind, outlet: { name: outlet.name, limits: outlet.limits }, instruction: ask.instruction, shape: ask.shape, others: ask.otherIds?.length ? await rankedOthers(db, blogId, ask.otherIds) : [], ...more };
}

async function keepVersion(trx: Trx, id: number, personId: number | null): Promise<void> {
  const row = (await trx('pieces').where({ id }).first<PieceRow>())!;
  await trx('piece_versions').insert({ piece_id: id, version: row.version, person_id: personId, content: JSON.stringify(Object.fromEntries(CONTENT.map((c) => [c, row[c]]))) }).onConflict(['piece_id', 'version']).ignore();
  await trx('piece_versions').where({ piece_id: id }).where('version', '<=', row.version - MOST_VERSIONS).delete();
}

async function writePiece(trx: Trx, person: CurrentPerson, piece: PieceRow, fields: object): Promise<void> {
  await trx('pieces').where({ id: piece.id }).update({ ...fields, version: piece.version + 1 });
  await keepVersion(trx, piece.id, person.id);
  await tell(trx, { blogId: piece.blog_id, kind: 'outlet', postId: piece.post_id, personId: person.id });
}

/** Edits a piece by hand: from then on its words are the person's. Its time may change, too. */
export async function changePiece(trx: Trx, person: CurrentPerson, id: number, ifMatch: number | null, changes: PieceChanges): Promise<number> {
  const { piece, post } = await lockPiece(trx, person, id, ifMatch);
  await mustBeOpen(trx, person, piece, post);
  const { timing, ...fields } = changes;
  const parts = fields.parts?.map((p) => p.normalize('NFC').replace(/\r\n?/g, '\n').replace(/[\u0000\ud800-\udfff]/gu, '').trimEnd()); // eslint-disable-line no-control-regex -- PostgreSQL keeps no NUL
  const words = (['subject', 'parts', 'words', 'alt', 'tags'] as const).some((f) => fields[f] !== undefined && JSON.stringify(f === 'parts' ? parts : fields[f]) !== JSON.stringify(piece[f]));
  const zone = (await trx('blogs').where({ id: person.blogId }).first<{ zone: string }>('zone'))!.zone;
  const due = timing ? dueTimes(timing, { ...post, zone }) : null;
  await writePiece(trx, person, piece, { ...fields, ...(parts ? { parts } : {}), ...(words ? { edited: true } : {}), ...(timing ? { timing: JSON.stringify(timing), ...due } : {}) });
  if (due) await moveSend(trx, piece.id, due.due_at);
  return piece.post_id;
}

/** An approved piece waits for its new time. */
export async function moveSend(trx: Trx, pieceId: number, dueAt: string | null): Promise<void> {
  const [send] = await trx('sends').where({ piece_id: pieceId, state: 'waiting' }).update({ due_at: dueAt, next_at: null }).returning<{ id: number }[]>('id');
  if (!send) return;
  await cancelSends(trx, [send.id]);
  await planSends(trx, { sendId: send.id });
}

/** Builds a piece again from the post as it is now. A person's words are written over only when that is said. */
export async function rebuildPiece(trx: Trx, person: CurrentPerson, id: number, ifMatch: number | null, { instruction, only, another, overwrite }: Rebuild): Promise<number> {
  const { piece, post } = await lockPiece(trx, person, id, ifMatch);
  await mustBeOpen(trx, person, piece, post);
  if (piece.edited && !overwrite) throw new ProblemError('demands', 'Its words were edited by hand. Building it again would write over them; the present version would be kept among the earlier ones.');
  const ranked = await rankedPost(trx, post);
  const outlet = await outletRow(trx, person.blogId, piece.outlet_id);
  const from = only === undefined && instruction === undefined && !another ? await sameSentences(trx, piece, ranked) : only ?? null;
  const earlier = another ? await earlierMade(trx, piece, post, ranked) : [];
  const ask = { kind: piece.kind, instruction: instruction ?? piece.instruction, shape: piece.shape, otherIds: piece.other_ids };
  let answer = makePiece(ranked, await engineAsk(trx, person.blogId, outlet, ask, { only: from, earlier }));
  // Where the sentences it was built from are gone the engine chooses anew, unless a person shaded them.
  if (!answer.ok && only === undefined && !another) answer = makePiece(ranked, await engineAsk(trx, person.blogId, outlet, ask));
  if (!answer.ok) throw new ProblemError('invalid', `${answer.sentence} The piece is as it was.`);
  await writePiece(trx, person, piece, { ...madeFields(answer.piece), instruction: ask.instruction, source_version: post.version, edited: false });
  return piece.post_id;
}

/** The sentences of the post that a piece was built from, where they are now. Pieces whose sentences all stand are built from the same. */
async function sameSentences(db: Reader, piece: PieceRow, ranked: RankedSource): Promise<number[] | null> {
  const then = (await textsAt(db, piece.post_id, [piece.source_version])).get(piece.source_version)!;
  const now = usedNow(then, piece.used, ranked.source).filter((at) => ranked.ranked.some((r) => r.at === at));
  return now.length > 0 ? now : null;
}

/** Versions that the engine made of the post as it stands; another one is to differ from each. */
async function earlierMade(db: Reader, piece: PieceRow, post: WholePostRow, ranked: RankedSource): Promise<NonNullable<PieceAsk['earlier']>> {
  const kept = await db('piece_versions').where({ piece_id: piece.id }).orderBy('version').pluck<PieceContentKept[]>('content');
  const texts = await textsAt(db, piece.post_id, kept.map((k) => k.source_version));
  return kept.filter((k) => !k.edited).map((k) => ({ parts: k.parts, words: k.words, used: k.source_version === post.version ? k.used : usedNow(texts.get(k.source_version)!, k.used, ranked.source) }));
}

/** Brings an earlier version back, as a version of its own. */
export async function restorePiece(trx: Trx, person: CurrentPerson, id: number, ifMatch: number | null, { version }: PieceRestore): Promise<number> {
  const { piece, post } = await lockPiece(trx, person, id, ifMatch);
  await mustBeOpen(trx, person, piece, post);
  const kept = await trx('piece_versions').where({ piece_id: id, version }).first<{ content: PieceContentKept } | undefined>('content');
  if (!kept) throw notFound('That version');
  await writePiece(trx, person, piece, kept.content);
  return piece.post_id;
}

/** Leaves a piece as it is, and takes it as made from the post as it stands. */
export async function keepPiece(trx: Trx, person: CurrentPerson, id: number): Promise<number> {
  const { piece, post } = await lockPiece(trx, person, id, null);
  const ranked = await rankedPost(trx, post);
  const used = (await sameSentences(trx, piece, ranked)) ?? [];
  await trx('pieces').where({ id }).update({ source_version: post.version, used, version: piece.version + 1 });
  await tell(trx, { blogId: piece.blog_id, kind: 'outlet', postId: piece.post_id, personId: person.id });
  return piece.post_id;
}

export async function removePiece(trx: Trx, person: CurrentPerson, id: number): Promise<number> {
  const { piece, post } = await lockPiece(trx, person, id, null);
  await mustBeOpen(trx, person, piece, post);
  const send = await trx('sends').where({ piece_id: id }).first<{ id: number } | undefined>('id');
  if (send) await cancelSends(trx, [send.id]);
  await trx('pieces').where({ id }).delete();
  await tell(trx, { blogId: piece.blog_id, kind: 'outlet', postId: piece.post_id, personId: person.id });
  return piece.post_id;
}

export const isDrawn = (kind: PieceKind) => DRAWN_KINDS.includes(kind);
