import { isDesk, isHopeless, formatCount, wallTimeOf } from '@keyroster/core';
import type { Swept } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import { changeAtOnce } from '../archive/at-once.js';
import type { Trx } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { zoneOf } from '../posts/change.js';
import { onlyVisible } from '../posts/visible.js';
import { databaseNow } from '../db/now.js';
import { factsOf, postRows } from '../posts/store.js';

/**
 * Puts late posts back into the tray, however many, all or none, as a batch that can be undone. A post that is not past
 * hope is refused.
 */
export async function sweep(trx: Trx, person: CurrentPerson, postIds: readonly number[]): Promise<Swept> {
  const nowLocal = wallTimeOf(await databaseNow(trx), await zoneOf(trx, person.blogId));
  // In order of id, so that two sweeps at once cannot wait for each other in a circle.
  const ids = [...postIds].sort((a, b) => a - b);
  await trx('all_posts')
    .where({ blog_id: person.blogId })
    .whereRaw('id = any(?)', [ids])
    .orderBy('id')
    .forUpdate()
    .select('id');
  const rows = await onlyVisible(postRows(trx), person)
    .where('posts.blog_id', person.blogId)
    .whereRaw('posts.id = any(?)', [ids]);
  if (rows.length < ids.length) throw notFound('One of those posts');
  for (const row of rows) {
    if (!isDesk(person, factsOf(row))) throw notYours(`Returning “${row.title}” to the tray`);
    if (!isHopeless({ stage: row.stage, runLocal: row.run_local }, nowLocal))
      throw new ProblemError('no-such-move', `“${row.title}” can still make its date. Nothing was returned.`);
  }
  const sentence = `${formatCount(ids.length, 'late post')} returned to the tray.`;
  const batch = await changeAtOnce(trx, person, [{ kind: 'stage', to: 'pitch' }], ids, sentence);
  return { sentence, batchId: batch.id };
}
