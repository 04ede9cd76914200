import type { Trx } from '../db/connect.js';
import type { Written } from '../posts/effects.js';
import { emit } from '../live/live.js';

/** Above so many posts at once, those who look are told that many changed rather than which. */
const MANY = 50;

/** Tells everybody in the newsroom what was written. */
export async function notifyWritten(trx: Trx, written: readonly Written[]): Promise<void> {
  const [first] = written;
  if (!first) return;
  if (written.length > MANY)
    return emit(trx, { blogId: first.blogId, kind: 'batch', personId: first.personId });
  await emit(
    trx,
    ...written.map(({ blogId, after, personId }) => ({
      blogId,
      kind: 'post' as const,
      postId: after.id,
      version: after.version,
      personId,
    })),
  );
}

/** Has readers' pages rendered again; after a change of many posts all of them are, see `notifyWritten`. */
export async function notifyPages(trx: Trx, effects: readonly { on: Written }[]): Promise<void> {
  if (effects.length > MANY) return emit(trx, { blogId: effects[0]!.on.blogId, kind: 'blog' });
  await emit(
    trx,
    ...effects.map(({ on }) => ({ blogId: on.blogId, kind: 'release' as const, postId: on.after.id })),
  );
}
