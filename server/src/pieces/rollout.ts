import { sourceFrom } from '../work/computing.js';
import type { PieceView, RolloutView } from '@keyroster/contract';
import {
  addDays,
  betterTimes,
  clashes,
  isDesk,
  lengthOf,
  may,
  movedOn,
  pieceErrors,
  sentTexts,
  readInstruction,
  formatInstruction,
  spreadOut,
  stillUsed,
  type Due,
  type PacedOutlet,
  type PostText,
  type WallTime,
} from '@keyroster/core';
import { personRef } from '../accounts/people.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { notFound } from '../http/problem.js';
import { emit } from '../live/live.js';
import { mediaSrc } from '../media/sizes.js';
import { asReadersSee } from '../posts/readers-version.js';
import { factsOf, findPost, type WholePostRow } from '../posts/store.js';
import { dueTimes } from './follow.js';
import type { OutletRow } from '../outlets/outlet-row.js';
import { galleryOf } from './pictures.js';
import { isDrawn, moveSend } from './pieces.js';
import { mayMake } from '../outlets/permissions.js';
import { type PieceRow } from './piece-store.js';
import { textsAt } from './source.js';
import { clockOf } from '../slots/clock.js';
import { hoursOf } from '../outlets/seen.js';
import { patternsFor } from './patterns.js';
import { mustSend } from '../outlets/permissions.js';
import { type Row, pieceRows } from './piece-rows.js';

/** The pieces of a post with all that is known of them. */
export async function seeRollout(db: Queryable, person: CurrentPerson, postId: number): Promise<RolloutView> {
  const row = await findPost(db, person.blogId, postId);
  if (!row || !may(person, 'see', factsOf(row))) throw notFound('That post');
  const post = await asReadersSee(db, row);
  const now = { title: post.title, ...(await sourceFrom(post.body)) };
  const rows = await pieceRows(db, postId);
  const texts = await textsAt(
    db,
    postId,
    rows.map((r) => r.source_version).filter((v) => v !== post.version),
  );
  const kept =
    rows.length === 0
      ? []
      : await db('piece_versions as v')
          .leftJoin('people as who', 'who.id', 'v.person_id')
          .whereIn(
            'v.piece_id',
            rows.map((r) => r.id),
          )
          .orderBy('v.version', 'desc')
          .select<{ piece_id: number; version: number; at: string; by: string | null; opening: string }[]>(
            'v.piece_id',
            'v.version',
            'v.at',
            'who.name as by',
            db.raw(`
              left(coalesce(nullif(v.content ->> 'words', ''), v.content -> 'parts' ->> 0), 90) as opening
            `),
          );
  return {
    post: {
      id: post.id,
      title: post.title,
      version: post.version,
      words: post.words,
      stage: post.stage,
      byline:
        post.byline_id === null ? null : personRef({ id: post.byline_id, name: post.byline_name ?? '' }),
      slug: post.slug,
      releaseLocal: post.stage === 'scheduled' || post.stage === 'published' ? post.run_local : null,
    },
    sentences: now.sentences,
    pictures: now.pictures.filter((p) => p.media !== 0).length,
    pieces: rows.map((r) =>
      viewOf(
        r,
        post,
        r.source_version === post.version ? now : texts.get(r.source_version)!,
        now,
        kept
          .filter((k) => k.piece_id === r.id && k.version !== r.version)
          .map(({ piece_id: _, ...version }) => version),
      ),
    ),
    clashes: await clashesOf(db, person.blogId, rows),
    mayMake: mayMake(person, post),
    maySend: isDesk(person, factsOf(post)),
    patterns: await patternsFor(db, post),
    ...(await betterTimesOf(db, person, post, rows)),
  };
}

/** What outlets' figures say of hours, and what of it this person could do with these pieces. */
async function betterTimesOf(
  db: Queryable,
  person: CurrentPerson,
  post: WholePostRow,
  rows: readonly Row[],
): Promise<Pick<RolloutView, 'hours' | 'better'>> {
  if (!mayMake(person, post)) return { hours: [], better: [] };
  const hours = await hoursOf(db, person.blogId);
  const { nowLocal } = await clockOf(db, person.blogId);
  const mine = isDesk(person, factsOf(post)) ? [null, 'waiting', 'stopped', 'failed'] : [null];
  const open = rows
    .filter((r) => mine.includes(r.state))
    .map((r) => ({ id: r.id, kind: r.kind, outletId: r.outlet_id, timing: r.timing }));
  const release = post.stage === 'scheduled' || post.stage === 'published' ? post.run_local : null;
  return { hours, better: betterTimes(open, hours, { release, now: nowLocal as WallTime }) };
}

function viewOf(
  r: Row,
  post: WholePostRow,
  then: PostText,
  now: PostText,
  versions: PieceView['versions'],
): PieceView {
  const gallery = r.kind === 'gallery' ? galleryOf(post, r) : [];
  const pictures = isDrawn(r.kind)
    ? [{ src: `/api/pieces/${r.id}/picture?v=${r.version}`, alt: r.alt }]
    : gallery.map((g) => ({ src: `${mediaSrc(g.media)}/${r.shape}.jpg`, alt: g.alt }));
  return {
    id: r.id,
    postId: r.post_id,
    outletId: r.outlet_id,
    outlet: r.outlet.name,
    kind: r.kind,
    instruction: r.instruction,
    understood: formatInstruction(readInstruction(r.instruction)),
    style: r.style,
    shape: r.shape,
    drawn: isDrawn(r.kind),
    otherIds: r.other_ids,
    subject: r.subject,
    parts: r.parts,
    words: r.words,
    alt: r.alt,
    tags: r.tags,
    remarks: r.remarks,
    usedNow: stillUsed(then, r.used, now),
    edited: r.edited,
    timing: r.timing,
    dueLocal: r.due_local,
    sourceVersion: r.source_version,
    moved: movedOn(then, r.used, now),
    pictures,
    versions,
    errors: errorsOf(r, r.outlet, gallery),
    counts: r.parts.map((p) => lengthOf(p, r.outlet.limits.length ?? { unit: 'graphemes', linkCost: null })),
    send:
      r.send_id === null
        ? null
        : { id: r.send_id, state: r.state, url: r.url, error: r.error, sentAt: r.sent_at, nextAt: r.next_at },
    version: r.version,
  };
}

/** What keeps a piece from its outlet. */
export function errorsOf(
  piece: PieceRow,
  outlet: Pick<OutletRow, 'limits' | 'name'>,
  gallery: readonly { alt: string }[],
): PieceView['errors'] {
  const pictures = isDrawn(piece.kind)
    ? [{ alt: piece.alt, bytes: null, shape: piece.shape }]
    : gallery.map((g) => ({ alt: g.alt, bytes: null, shape: piece.shape }));
  return pieceErrors(
    {
      subject: piece.subject,
      parts: sentTexts(piece.kind, piece.parts),
      tags: piece.tags,
      alt: piece.alt,
      pictures,
    },
    outlet.limits,
    outlet.name,
  );
}

/** Everything that goes to these outlets around these pieces, so that what clashes is seen across posts. */
async function dueAround(
  db: Queryable,
  blogId: number,
  pieces: readonly PieceRow[],
): Promise<{ due: Due[]; outlets: PacedOutlet[] }> {
  const dated = pieces.filter((p) => p.due_local !== null);
  if (dated.length === 0) return { due: [], outlets: [] };
  const [from, to] = [
    addDays(
      dated.reduce((a, p) => (p.due_local! < a ? p.due_local! : a), dated[0]!.due_local!).slice(0, 10),
      -1,
    ),
    addDays(dated.reduce((a, p) => (p.due_local! > a ? p.due_local! : a), '').slice(0, 10), 61),
  ];
  const ids = [...new Set(dated.map((p) => p.outlet_id))];
  const due = await db('pieces as p')
    .leftJoin('sends as s', 's.piece_id', 'p.id')
    .where('p.blog_id', blogId)
    .whereIn('p.outlet_id', ids)
    .whereBetween('p.due_local', [from, to])
    .whereRaw(`coalesce(s.state, 'draft') <> 'stopped'`)
    .select<{ id: number; outletId: number; local: string; state: string | null }[]>(
      'p.id',
      'p.outlet_id as outletId',
      'p.due_local as local',
      's.state',
    );
  const outlets = await db('outlets').whereIn('id', ids).select<PacedOutlet[]>('id', 'name', 'limits');
  return {
    due: due.map((d) => ({ id: d.id, outletId: d.outletId, local: d.local, sent: d.state === 'sent' })),
    outlets,
  };
}

async function clashesOf(
  db: Queryable,
  blogId: number,
  pieces: readonly PieceRow[],
): Promise<RolloutView['clashes']> {
  const { due, outlets } = await dueAround(db, blogId, pieces);
  const own = new Set(pieces.map((p) => p.id));
  return clashes(due, outlets).filter((c) => own.has(c.pieceId));
}

/**
 * Moves a post's pieces that clash to the next free times; those of other posts stay. They become dates of
 * their own.
 */
export async function spreadRollout(trx: Trx, person: CurrentPerson, postId: number): Promise<void> {
  const post = await mustSend(trx, person, postId);
  const rows = await pieceRows(trx, postId);
  const { due, outlets } = await dueAround(trx, person.blogId, rows);
  const own = new Set(rows.map((r) => r.id));
  const moved = spreadOut(
    due.map((d) => (own.has(d.id) ? d : { ...d, fixed: true })),
    outlets,
  );
  const zone = (await trx('blogs').where({ id: person.blogId }).first<{ zone: string }>('zone'))!.zone;
  for (const [id, local] of moved) {
    const timing = { kind: 'date' as const, local };
    const times = dueTimes(timing, { ...post, zone });
    await trx('pieces')
      .where({ id })
      .update({ timing: JSON.stringify(timing), ...times, version: trx.raw('version + 1') });
    await moveSend(trx, id, times.due_at);
  }
  if (moved.size > 0) await emit(trx, { blogId: person.blogId, kind: 'outlet', postId, personId: person.id });
}
