import type { NewMove } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { zoneOf } from './change.js';
import { editPost, type Done } from './edit.js';
import { runTimeOf } from './run-time.js';
import type { WholePostRow } from './store.js';

/** Moves a post to a stage. The caller holds the row's lock. */
export async function movePost(
  trx: Trx,
  row: WholePostRow,
  person: CurrentPerson,
  { to, runAt, note }: NewMove,
): Promise<Done> {
  const run = runAt === undefined ? undefined : runTimeOf(runAt, await zoneOf(trx, row.blog_id));
  return editPost(trx, row, person, { kind: 'move', to, run, note });
}
