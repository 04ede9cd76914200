import type { Queryable, Trx } from '../db/connect.js';

/**
 * Adds a job for sends that wait and whose time is known: at their time, at the next try, or at once when
 * both are past. A send has one job at a time. Commits with the change that causes it.
 */
export async function planSends(
  trx: Trx,
  which: { sendId: number } | { outletId: number } | { blogId: number },
): Promise<void> {
  const [column, id] =
    'sendId' in which
      ? ['id', which.sendId]
      : 'outletId' in which
        ? ['outlet_id', which.outletId]
        : ['blog_id', which.blogId];
  await trx.raw(
    `
      select
        graphile_worker.add_job (
          'send',
          payload => json_build_object('sendId', s.id),
          run_at => greatest(s.due_at, coalesce(s.next_at, s.due_at), now()),
          max_attempts => 25,
          job_key => 'send:' || s.id,
          priority => 4
        )
      from
        sends s
      where
        s.${column} = ?
        and s.state = 'waiting'
        and s.due_at is not null
    `,
    [id],
  );
}

export async function cancelSends(trx: Trx, sendIds: readonly number[]): Promise<void> {
  if (sendIds.length > 0)
    await trx.raw(`select graphile_worker.remove_job('send:' || id) from unnest(?::int[]) id`, [
      [...sendIds],
    ]);
}

/**
 * Sends that are due and that no job is at, after an outage; and those that were being sent when a process
 * died.
 */
export async function lostSends(db: Queryable): Promise<{ due: number[]; broken: number[] }> {
  const due = await db('sends')
    .where({ state: 'waiting' })
    .whereRaw(`greatest(due_at, coalesce(next_at, due_at)) < now() - interval '30 seconds'`)
    .whereRaw(`not exists (select 1 from graphile_worker.jobs j where j.key = 'send:' || sends.id)`)
    .orderBy('due_at')
    .limit(2000)
    .pluck<number[]>('id');
  const broken = await db('sends')
    .where({ state: 'sending' })
    .whereRaw(`claimed_at < now() - interval '150 seconds'`)
    .pluck<number[]>('id');
  return { due, broken };
}
