import { isHopeless, sayCount, wallTimeOf } from '@keyroster/core';
import type { Swept } from '@keyroster/contract';
import type { CurrentPerson } from '../accounts/who.js';
import type { Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { movePost, zoneOf } from '../posts/move.js';
import { visiblePostToChange } from '../posts/routes.js';
import { databaseNow } from '../posts/store.js';

/** Puts late posts back into the tray, all or none, through the one door to a stage. A post that is not past hope is refused. */
export async function sweep(trx: Trx, person: CurrentPerson, postIds: readonly number[]): Promise<Swept> {
  const nowLocal = wallTimeOf(await databaseNow(trx), await zoneOf(trx, person.blogId));
  const posts: Swept['posts'] = [];
  // In order of id, so that two sweeps at once cannot wait for each other in a circle.
  for (const id of [...postIds].sort((a, b) => a - b)) {
    const row = await visiblePostToChange(trx, person, id);
    if (!isHopeless({ stage: row.stage, runLocal: row.run_local }, nowLocal)) throw new ProblemError('no-such-move', `“${row.title}” can still make its date. Nothing was swept.`);
    posts.push({ id, version: (await movePost(trx, row, person, { to: 'pitch' })).version });
  }
  return { sentence: `${sayCount(posts.length, 'late post')} swept back to the tray.`, posts };
}
