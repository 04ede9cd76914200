import { usedNow } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import type { sentencesIn } from '../work/computing.js';
import type { PieceRow } from './piece-store.js';
import { textsAt } from './source.js';

export type PostSentences = Awaited<ReturnType<typeof sentencesIn>>;

/**
 * The sentences of the post that a piece was built from, where they are now. Pieces whose sentences all stand
 * are built from the same.
 */
export async function sameSentences(
  db: Queryable,
  piece: PieceRow,
  now: PostSentences,
): Promise<number[] | null> {
  const then = (await textsAt(db, piece.post_id, [piece.source_version])).get(piece.source_version)!;
  const usable = new Set(now.usable);
  const used = usedNow(then, piece.used, now).filter((at) => usable.has(at));
  return used.length > 0 ? used : null;
}
