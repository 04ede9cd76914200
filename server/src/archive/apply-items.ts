import { inTurns } from '../work/turns.js';
import type { ItemState } from '@keyroster/contract';
import { sameValue, type BatchItem, type Edited, type Post } from '@keyroster/core';
import type { Trx } from '../db/connect.js';
import { lighterKey, type Prediction, type Lighter } from './predict.js';

/**
 * Holds the posts, in the order of their ids, so that two batches over the same posts wait for each other and
 * never for ever. Gives the ids in the order of the preview.
 */
export async function lockItems(trx: Trx, id: number): Promise<number[]> {
  await trx.raw(
    `
      select
        p.id
      from
        all_posts p
        join batch_items i on i.post_id = p.id
      where
        i.batch_id = ?
        and i.state = 'changes'
      order by
        p.id
      for update of
        p
    `,
    [id],
  );
  return trx('batch_items')
    .where({ batch_id: id, state: 'changes' })
    .orderBy('at')
    .pluck<number[]>('post_id');
}

export interface SortedOut {
  writes: { before: Post; edited: Edited }[];
  /** Items that come out otherwise than they were previewed, with why. */
  left: { p: number; s: ItemState; t: string }[];
  /** What is written, where the preview could not say it yet. */
  settled: { p: number; a: BatchItem['after'] }[];
}

/** Only what is still as it was previewed is written; the rest is left out, and its item says why. */
export async function sortOut(
  trx: Trx,
  id: number,
  posts: readonly Post[],
  predictions: readonly Prediction[],
  lighter: Lighter,
): Promise<SortedOut> {
  const items = await trx('batch_items')
    .where({ batch_id: id })
    .whereRaw('post_id = any(?)', [posts.map((p) => p.id)])
    .select<({ post_id: number } & BatchItem)[]>('post_id', 'before', 'after');
  const previewed = new Map(items.map((i) => [i.post_id, i]));
  const sorted: SortedOut = { writes: [], left: [], settled: [] };
  await inTurns(posts, (post, i) => {
    const { outcome } = predictions[i]!;
    const item = previewed.get(post.id)!;
    if (outcome.state === 'refused') sorted.left.push({ p: post.id, s: 'refused', t: outcome.sentence });
    else if (outcome.state === 'same')
      sorted.left.push({ p: post.id, s: 'same', t: 'So already by the time it was applied.' });
    else if (!sameValue(outcome.item, expected(item, lighter)))
      sorted.left.push({ p: post.id, s: 'refused', t: 'It changed since the preview.' });
    else {
      sorted.writes.push({ before: post, edited: outcome.edited });
      if (item.after.leadPicture?.maxBytes !== undefined)
        sorted.settled.push({ p: post.id, a: outcome.item.after });
    }
  });
  return sorted;
}

/** The previewed item, with the picture that was drawn where one was asked for. */
function expected({ before, after }: BatchItem, lighter: Lighter): BatchItem {
  const picture = after.leadPicture;
  if (!picture || picture.maxBytes === undefined) return { before, after };
  const media = lighter.get(lighterKey(picture.media, picture.maxBytes)) ?? picture.media;
  return { before, after: { ...after, leadPicture: { media, alt: picture.alt } } };
}

/** What came of items otherwise than they were previewed. */
export async function storeOutcomes(trx: Trx, id: number, { left, settled }: SortedOut): Promise<void> {
  if (left.length > 0)
    await trx.raw(
      `
        update batch_items i
        set
          state = x.s,
          sentence = x.t
        from
          jsonb_to_recordset(?::jsonb) as x (p int, s text, t text)
        where
          i.batch_id = ?
          and i.post_id = x.p
      `,
      [JSON.stringify(left), id],
    );
  if (settled.length > 0)
    await trx.raw(
      `
        update batch_items i
        set
          after = x.a
        from
          jsonb_to_recordset(?::jsonb) as x (p int, a jsonb)
        where
          i.batch_id = ?
          and i.post_id = x.p
      `,
      [JSON.stringify(settled), id],
    );
}
