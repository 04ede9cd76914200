import { isDesk } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';

/** Keeps with a batch which open chores it gives to somebody else. */
export async function storeChores(
  trx: Trx,
  batchId: number,
  choreIds: readonly number[],
  { from, to }: { from: number; to: number },
): Promise<void> {
  if (choreIds.length === 0) return;
  await trx('batch_chores').insert(
    choreIds.map((chore_id) => ({ batch_id: batchId, chore_id, from_id: from, to_id: to })),
  );
}

/** A batch that takes another one back gives its chores back too. */
export async function storeRevertedChores(trx: Trx, batchId: number, reverts: number): Promise<void> {
  await trx.raw(
    `
      insert into
        batch_chores (batch_id, chore_id, from_id, to_id)
      select
        ?,
        chore_id,
        to_id,
        from_id
      from
        batch_chores
      where
        batch_id = ?
    `,
    [batchId, reverts],
  );
}

interface ChoreRow {
  chore_id: number;
  to_id: number;
  category_id: number | null;
}

/**
 * Gives the chores of a batch to whom they go. Left out are those that were done or given to somebody else since,
 * of posts that were left out of the batch, and of posts that are not the person's to plan any more. Gives how
 * many went.
 */
export async function giveChores(trx: Trx, batchId: number, person: CurrentPerson): Promise<number> {
  const rows = await trx('batch_chores as b')
    .join('chores as c', 'c.id', 'b.chore_id')
    .join('posts as p', 'p.id', 'c.post_id')
    .leftJoin('batch_items as i', (on) => on.on('i.batch_id', 'b.batch_id').andOn('i.post_id', 'c.post_id'))
    .where('b.batch_id', batchId)
    .whereRaw('c.person_id = b.from_id')
    .whereExists((q) =>
      q
        .from('memberships as m')
        .join('people as t', 't.id', 'm.person_id')
        .whereRaw('m.blog_id = p.blog_id and m.person_id = b.to_id and t.active')
        .whereNot('m.role', 'reader'),
    )
    .whereNull('c.done_at')
    .whereRaw(`i.state is distinct from 'left'`)
    .select<ChoreRow[]>('b.chore_id', 'b.to_id', 'p.category_id');
  const theirs = rows.filter((r) => isDesk(person, { categoryId: r.category_id }));
  for (const to of new Set(theirs.map((r) => r.to_id)))
    await trx('chores')
      .whereIn(
        'id',
        theirs.filter((r) => r.to_id === to).map((r) => r.chore_id),
      )
      .update({ person_id: to });
  return theirs.length;
}
