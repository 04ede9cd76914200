import { formatCount, formatTitles } from '@keyroster/core';
import type { Db } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { ProblemError } from '../http/problem.js';
import { storeDrawn } from '../media/store-picture.js';
import { lighter } from '../media/redraw.js';
import { lighterKey, type Lighter } from './predict.js';
import { Unfit } from './unfit.js';

interface Wanted {
  blogId: number;
  personId: number;
  media: number;
  maxBytes: number;
  title: string;
}

/**
 * Draws the lighter pictures that a waiting batch asks for, before anything of it is written and outside of any
 * transaction. Each is kept in the library at once; taken up again after a crash, the same comes out and is
 * found there.
 */
export async function drawLighter(db: Db, batchId: number): Promise<Lighter> {
  const wanted = await db('batch_items as i')
    .join('batches as b', 'b.id', 'i.batch_id')
    .where({ 'b.id': batchId, 'b.state': 'waiting', 'i.state': 'changes' })
    .whereRaw(`i.after->'leadPicture' \\? 'maxBytes'`)
    .groupBy('b.blog_id', 'b.person_id', 'media', 'maxBytes')
    .orderBy('media')
    .select<Wanted[]>(
      'b.blog_id as blogId',
      'b.person_id as personId',
      db.raw(`(i.after->'leadPicture'->>'media')::int as media`),
      db.raw(`(i.after->'leadPicture'->>'maxBytes')::int as "maxBytes"`),
      db.raw('(select title from all_posts p where p.id = min(i.post_id)) as title'),
    );
  const drawn = new Map<string, number>();
  const tooHeavy: string[] = [];
  for (const { blogId, personId, media, maxBytes, title } of wanted) {
    try {
      const picture = await lighter(db, blogId, media, maxBytes);
      const kept = await inTransaction(db, (trx) =>
        storeDrawn(trx, { blogId, id: personId }, picture, { madeFromId: media }),
      );
      drawn.set(lighterKey(media, maxBytes), kept.id);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      tooHeavy.push(title);
    }
  }
  if (tooHeavy.length > 0)
    throw new Unfit(
      `${formatCount(tooHeavy.length, 'lead picture')} cannot be made so light and still be looked at: ` +
        `that of ${formatTitles(tooHeavy)}. Leave them out, or ask for a little more.`,
    );
  return drawn;
}
