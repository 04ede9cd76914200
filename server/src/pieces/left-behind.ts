import type { UpdateView } from '@keyroster/contract';
import { movedOn, type MovedOn } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import type { WholePostRow } from '../posts/store.js';
import { sourceFrom } from '../work/computing.js';
import { pieceRows } from './piece-rows.js';
import { textsAt } from './source.js';

const MOVED: readonly MovedOn['what'][] = ['used', 'title'];

/** Pieces whose sentences a post does not have any more as it stands at the desk. */
export async function piecesLeftBehind(db: Queryable, post: WholePostRow): Promise<UpdateView['behind']> {
  const rows = await pieceRows(db, post.id);
  const now = { title: post.title, ...(await sourceFrom(post.body)) };
  const texts = await textsAt(
    db,
    post.id,
    rows.map((r) => r.source_version),
  );
  return rows
    .filter((r) => MOVED.includes(movedOn(texts.get(r.source_version)!, r.used, now).what))
    .map((r) => ({ id: r.id, kind: r.kind, outlet: r.outlet.name, sent: r.state === 'sent' }));
}
