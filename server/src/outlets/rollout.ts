import type { Approval, NewPattern, PatternFrom, PatternView, PiecesMade, PieceView, PlannerPiece, PlannerPiecesQuery, RolloutView, SendState } from '@keyroster/contract';
import { addDays, clashes, isDesk, lengthOf, may, movedOn, pieceFaults, readInstruction, sayInstruction, sourceOf, spreadOut, standingNow, type Due, type PacedOutlet, type PostText } from '@keyroster/core';
import { personRef } from '../accounts/people.js';
import type { CurrentPerson } from '../accounts/who.js';
import type { Reader, Trx } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { tell } from '../live/live.js';
import { mediaSrc } from '../media/sizes.js';
import { factsOf, findPost, type WholePostRow } from '../posts/store.js';
import { dueTimes } from './follow.js';
import type { OutletRow } from './outlets.js';
import { galleryOf } from './pictures.js';
import { isDrawn, lockPiece, makePieces, mayMake, moveSend, type PieceRow } from './pieces.js';
import { cancelSends, planSends } from './plan.js';
import { textsAt } from './source.js';

type Row = PieceRow & { outlet: OutletRow; send_id: number | null; state: SendState; url: string; fault: string; sent_at: string | null; next_at: string | null };

async function pieceRows(db: Reader, postId: number): Promise<Row[]> {
  return db('pieces as p').join('outlets as o', 'o.id', 'p.outlet_id').leftJoin('sends as s', 's.piece_id', 'p.id').where('p.post_id', postId).orderByRaw('p.due_local nulls last, p.id').select<Row[]>('p.*', db.raw('to_jsonb(o) as outlet'), 's.id as send_id', 's.state', 's.url', 's.fault', 's.sent_at', 's.next_at');
}

/** The pieces of a post with all that is known of them. */
export async function seeRollout(db: Reader, person: CurrentPerson, postId: number): Promise<RolloutView> {
  const post = await findPost(db, person.blogId, postId);
  if (!post || !may(person, 'see', factsOf(post))) throw notFound('That post');
  const now = { title: post.title, ...sourceOf(post.body) };
  const rows = await pieceRows(db, postId);
  const texts = await textsAt(db, postId, rows.map((r) => r.source_version).filter((v) => v !== post.version));
  const kept = rows.length === 0 ? [] : await db('piece_versions as v').leftJoin('people as who', 'who.id', 'v.person_id').whereIn('v.piece_id', rows.map((r) => r.id)).orderBy('v.version', 'desc').select<{ piece_id: number; version: number; at: string; by: string | null; opening: string }[]>('v.piece_id', 'v.version', 'v.at', 'who.name as by', db.raw(`left(coalesce(nullif(v.content->>'words', ''), v.content->'parts'->>0), 90) as opening`));
  return {
    post: { id: post.id, title: post.title, version: post.version, words: post.words, stage: post.stage, byline: post.byline_id === null ? null : personRef({ id: post.byline_id, name: post.byline_name ?? '' }), address: post.address, releaseLocal: post.stage === 'scheduled' || post.stage === 'published' ? post.run_local : null },
    sentences: now.sentences, pictures: now.pictures.filter((p) => p.media !== 0).length,
    pieces: rows.map((r) => viewOf(r, post, r.source_version === post.version ? now : texts.get(r.source_version)!, now, kept.filter((k) => k.piece_id === r.id && k.version !== r.version))),
    clashes: await clashesOf(db, person.blogId, rows), mayMake: mayMake(person, post), maySend: isDesk(person, factsOf(post)), patterns: await patternsFor(db, post),
  };
}

function viewOf(r: Row, post: WholePostRow, then: PostText, now: PostText, versions: (PieceView['versions'][number] & { piece_id?: number })[]): PieceView {
  const gallery = r.kind === 'gallery' ? galleryOf(post, r) : [];
  const pictures = isDrawn(r.kind) ? [{ src: `/api/pieces/${r.id}/picture?v=${r.version}`, alt: r.alt }] : gallery.map((g) => ({ src: `${mediaSrc(g.media)}/${r.shape}.jpg`, alt: g.alt }));
  return {
    id: r.id, postId: r.post_id, outletId: r.outlet_id, outlet: r.outlet.name, kind: r.kind, instruction: r.instruction, understood: sayInstruction(readInstruction(r.instruction)), style: r.style, shape: r.shape, drawn: isDrawn(r.kind),
    otherIds: r.other_ids, subject: r.subject, parts: r.parts, words: r.words, alt: r.alt, tags: r.tags, remarks: r.remarks, standing: standingNow(then, r.used, now), edited: r.edited, timing: r.timing, dueLocal: r.due_local, sourceVersion: r.source_version, moved: movedOn(then, r.used, now), pictures, versions,
    faults: faultsOf(r, r.outlet, gallery), counts: r.parts.map((p) => lengthOf(p, r.outlet.limits.length ?? { unit: 'graphemes', linkCost: null })),
    send: r.send_id === null ? null : { id: r.send_id, state: r.state, url: r.url, fault: r.fault, sentAt: r.sent_at, nextAt: r.next_at }, version: r.version,
  };
}

/** What keeps a piece from its outlet. */
export function faultsOf(piece: PieceRow, outlet: Pick<OutletRow, 'limits' | 'name'>, gallery: readonly { alt: string }[]): PieceView['faults'] {
  const pictures = isDrawn(piece.kind) ? [{ alt: piece.alt, bytes: null, shape: piece.shape }] : gallery.map((g) => ({ alt: g.alt, bytes: null, shape: piece.shape }));
  return pieceFaults({ subject: piece.subject, parts: piece.parts, tags: piece.tags, alt: piece.alt, pictures }, outlet.limits, outlet.name);
}

/** Everything that goes to these outlets around these pieces, so that what clashes is seen across posts. */
async function dueAround(db: Reader, blogId: number, pieces: readonly PieceRow[]): Promise<{ due: Due[]; outlets: PacedOutlet[] }> {
  const dated = pieces.filter((p) => p.due_local !== null);
  if (dated.length === 0) return { due: [], outlets: [] };
  const [from, to] = [addDays(dated.reduce((a, p) => (p.due_local! < a ? p.due_local! : a), dated[0]!.due_local!).slice(0, 10), -1), addDays(dated.reduce((a, p) => (p.due_local! > a ? p.due_local! : a), '').slice(0, 10), 61)];
  const ids = [...new Set(dated.map((p) => p.outlet_id))];
  const due = await db('pieces as p').leftJoin('sends as s', 's.piece_id', 'p.id').where('p.blog_id', blogId).whereIn('p.outlet_id', ids).whereBetween('p.due_local', [from, to]).whereRaw(`coalesce(s.state, 'draft') <> 'stopped'`)
    .select<{ id: number; outletId: number; local: string; state: string | null }[]>('p.id', 'p.outlet_id as outletId', 'p.due_local as local', 's.state');
  const outlets = await db('outlets').whereIn('id', ids).select<PacedOutlet[]>('id', 'name', 'limits');
  return { due: due.map((d) => ({ id: d.id, outletId: d.outletId, local: d.local, sent: d.state === 'sent' })), outlets };
}

async function clashesOf(db: Reader, blogId: number, pieces: readonly PieceRow[]): Promise<RolloutView['clashes']> {
  const { due, outlets } = await dueAround(db, blogId, pieces);
  const own = new Set(pieces.map((p) => p.id));
  return clashes(due, outlets).filter((c) => own.has(c.pieceId));
}

/** Moves a post's pieces that clash to the next free times; those of other posts stay. They become dates of their own. */
export async function spreadRollout(trx: Trx, person: CurrentPerson, postId: number): Promise<void> {
  const post = await mustSend(trx, person, postId);
  const rows = await pieceRows(trx, postId);
  const { due, outlets } = await dueAround(trx, person.blogId, rows);
  const own = new Set(rows.map((r) => r.id));
  const moved = spreadOut(due.map((d) => (own.has(d.id) ? d : { ...d, fixed: true })), outlets);
  const zone = (await trx('blogs').where({ id: person.blogId }).first<{ zone: string }>('zone'))!.zone;
  for (const [id, local] of moved) {
    const timing = { kind: 'date' as const, local };
    const times = dueTimes(timing, { ...post, zone });
    await trx('pieces').where({ id }).update({ timing: JSON.stringify(timing), ...times, version: trx.raw('version + 1') });
    await moveSend(trx, id, times.due_at);
  }
  if (moved.size > 0) await tell(trx, { blogId: person.blogId, kind: 'outlet', postId, personId: person.id });
}

async function mustSend(db: Reader, person: CurrentPerson, postId: number): Promise<WholePostRow> {
  const post = await findPost(db, person.blogId, postId);
  if (!post) throw notFound('That post');
  if (!isDesk(person, factsOf(post))) throw notYours('Sending pieces of this post');
  return post;
}

/** Lets a piece go out when it is due, or holds it. What its outlet would refuse is not let out. */
export async function approvePiece(trx: Trx, person: CurrentPerson, id: number, { approved }: Approval): Promise<number> {
  const { piece, post } = await lockPiece(trx, person, id, null);
  await mustSend(trx, person, piece.post_id);
  await setApproval(trx, person, piece, post, approved, true);
  return piece.post_id;
}

/** The same for all pieces of a post; those that cannot go, or that the post has left behind, are left as they are. */
export async function approveRollout(trx: Trx, person: CurrentPerson, postId: number, { approved }: Approval): Promise<void> {
  const post = await mustSend(trx, person, postId);
  const pieces = await trx('pieces').where({ post_id: postId }).orderBy('id').forUpdate().select<PieceRow[]>();
  if (pieces.length === 0) throw new ProblemError('invalid', 'The post has no pieces yet.');
  const behind = new Set((await seeRollout(trx, person, postId)).pieces.filter((p) => p.moved.what === 'used' || p.moved.what === 'title').map((p) => p.id));
  for (const piece of pieces) if (!approved || !behind.has(piece.id)) await setApproval(trx, person, piece, post, approved, false);
}

async function setApproval(trx: Trx, person: CurrentPerson, piece: PieceRow, post: WholePostRow, approved: boolean, strict: boolean): Promise<void> {
  const send = await trx('sends').where({ piece_id: piece.id }).forUpdate().first<{ id: number; state: string } | undefined>('id', 'state');
  const refuse = (sentence: string) => { if (strict) throw new ProblemError('invalid', sentence); };
  if (!approved) {
    if (!send) return;
    if (send.state !== 'waiting' && send.state !== 'stopped' && send.state !== 'failed') return refuse('It is out, or on its way.');
    await cancelSends(trx, [send.id]);
    await trx('sends').where({ id: send.id }).delete();
  } else {
    if (send && send.state !== 'stopped' && send.state !== 'failed') return;
    if (post.stage === 'withdrawn') return refuse('Its post was withdrawn.');
    const outlet = (await trx('outlets').where({ id: piece.outlet_id }).first<OutletRow>())!;
    const fault = faultsOf(piece, outlet, piece.kind === 'gallery' ? galleryOf(post, piece) : []).find((f) => f.blocks);
    if (fault) return refuse(fault.sentence);
    if (outlet.closed_at !== null) return refuse(`${outlet.name} is closed.`);
    if (send) await trx('sends').where({ id: send.id }).update({ state: 'waiting', fault: '', due_at: piece.due_at, next_at: null, outlet_id: piece.outlet_id, approved_by: person.id, approved_at: trx.raw('clock_timestamp()') });
    else await trx('sends').insert({ blog_id: piece.blog_id, piece_id: piece.id, outlet_id: piece.outlet_id, due_at: piece.due_at, approved_by: person.id });
    await planSends(trx, { sendId: (await trx('sends').where({ piece_id: piece.id }).first<{ id: number }>('id'))!.id });
  }
  await tell(trx, { blogId: piece.blog_id, kind: 'outlet', postId: piece.post_id, personId: person.id });
}

const patternOf = (r: { id: number; name: string; stops: PatternView['stops']; format_id: number | null; category_id: number | null }): PatternView => ({ id: r.id, name: r.name, stops: r.stops, formatId: r.format_id, categoryId: r.category_id });

export async function listPatterns(db: Reader, blogId: number): Promise<PatternView[]> {
  return (await db('rollout_patterns').where({ blog_id: blogId }).orderByRaw('lower(name)').select()).map(patternOf as never);
}

/** Patterns, the post's own format's first, then its category's. */
async function patternsFor(db: Reader, post: WholePostRow): Promise<PatternView[]> {
  const fit = (p: PatternView) => (p.formatId !== null && p.formatId === post.format_id ? 0 : p.categoryId !== null && p.categoryId === post.category_id ? 1 : 2);
  return (await listPatterns(db, post.blog_id)).sort((a, b) => fit(a) - fit(b));
}

export async function keepPattern(trx: Trx, person: CurrentPerson, pattern: NewPattern, id: number | null): Promise<PatternView[]> {
  const row = { name: pattern.name, stops: JSON.stringify(pattern.stops), format_id: pattern.formatId, category_id: pattern.categoryId };
  for (const outletId of new Set(pattern.stops.map((s) => s.outletId))) if (!(await trx('outlets').where({ blog_id: person.blogId, id: outletId }).first('id'))) throw new ProblemError('invalid', 'One of those outlets is not on this blog.');
  if (id === null) await trx('rollout_patterns').insert({ blog_id: person.blogId, ...row }).onConflict(['blog_id', 'name']).merge();
  else if (!(await trx('rollout_patterns').where({ blog_id: person.blogId, id }).update(row))) throw notFound('That pattern');
  return listPatterns(trx, person.blogId);
}

/** Keeps the rollout of a post as a pattern: its kinds, outlets, instructions and times that follow the release. */
export async function patternFrom(trx: Trx, person: CurrentPerson, { postId, ...pattern }: PatternFrom): Promise<PatternView[]> {
  const rows = await pieceRows(trx, (await mustSend(trx, person, postId)).id);
  const stops = rows.filter((r) => r.timing.kind !== 'date' && r.kind !== 'digest').map((r) => ({ kind: r.kind, outletId: r.outlet_id, instruction: r.instruction, style: r.style, shape: r.shape, timing: r.timing }));
  if (stops.length === 0) throw new ProblemError('invalid', 'None of its pieces has a time that follows the release.');
  return keepPattern(trx, person, { ...pattern, stops }, null);
}

export async function removePattern(trx: Trx, person: CurrentPerson, id: number): Promise<PatternView[]> {
  if (!(await trx('rollout_patterns').where({ blog_id: person.blogId, id }).delete())) throw notFound('That pattern');
  return listPatterns(trx, person.blogId);
}

export async function usePattern(trx: Trx, person: CurrentPerson, postId: number, patternId: number): Promise<PiecesMade> {
  const pattern = await trx('rollout_patterns').where({ blog_id: person.blogId, id: patternId }).first<{ stops: PatternView['stops'] } | undefined>('stops');
  if (!pattern) throw notFound('That pattern');
  return makePieces(trx, person, postId, { asks: pattern.stops });
}

const MOST_DAYS = 400;
/** Pieces in a span of days, for the planner. */
export async function plannerPieces(db: Reader, person: CurrentPerson, { from, to }: PlannerPiecesQuery): Promise<PlannerPiece[]> {
  if (to < from || to > addDays(from, MOST_DAYS)) throw new ProblemError('invalid', `Ask for at most ${MOST_DAYS} days.`);
  const rows = await db('pieces as p').join('posts', 'posts.id', 'p.post_id').join('outlets as o', 'o.id', 'p.outlet_id').leftJoin('sends as s', 's.piece_id', 'p.id').where('p.blog_id', person.blogId).where('p.due_local', '>=', from).where('p.due_local', '<', addDays(to, 1)).orderBy('p.due_local').orderBy('p.id').limit(2000)
    .modify((q) => { if (person.role === 'proofreader') void q.whereRaw(`(posts.proofreader_id = ? or posts.stage = 'published')`, [person.id]); })
    .select<{ id: number; postId: number; kind: PlannerPiece['kind']; outlet: string; local: string; state: PlannerPiece['state'] | null }[]>('p.id', 'p.post_id as postId', 'p.kind', 'o.name as outlet', 'p.due_local as local', 's.state');
  return rows.map((r) => ({ ...r, state: r.state ?? 'draft' }));
}
