import type { SendState } from '@keyroster/contract';
import type { Queryable } from '../db/connect.js';
import type { OutletRow } from '../outlets/outlet-row.js';
import { type PieceRow } from './piece-store.js';

export type Row = PieceRow & {
  outlet: OutletRow;
  send_id: number | null;
  state: SendState;
  url: string;
  error: string;
  sent_at: string | null;
  next_at: string | null;
};

export async function pieceRows(db: Queryable, postId: number): Promise<Row[]> {
  return db('pieces as p')
    .join('outlets as o', 'o.id', 'p.outlet_id')
    .leftJoin('sends as s', 's.piece_id', 'p.id')
    .where('p.post_id', postId)
    .orderByRaw('p.due_local nulls last, p.id')
    .select<Row[]>(
      'p.*',
      db.raw('to_jsonb(o) as outlet'),
      's.id as send_id',
      's.state',
      's.url',
      's.error',
      's.sent_at',
      's.next_at',
    );
}
