import { afterBounces, type SubscriberState } from '@keyroster/core';
import type { Trx } from '../db/connect.js';

/** Letters that are looked back on; more in a row change nothing. */
const LOOKED_AT = 20;

/**
 * A letter's recipient was refused permanently, which its row says already: counts such refusals in a row, by letters
 * that say something about the address, and ends the subscription at the second.
 */
export async function countRefusals(trx: Trx, subscriberId: number, fault: string): Promise<void> {
  const subscriber = await trx('subscribers')
    .where({ id: subscriberId })
    .forUpdate()
    .first<{ state: SubscriberState; since: string | null } | undefined>('state', 'restored_at as since');
  if (!subscriber) return;
  const newest = await trx('letter_sends')
    .where({ subscriber_id: subscriberId })
    .andWhere((said) => void said.where('state', 'sent').orWhere('address_refused', true))
    .modify((query) => {
      if (subscriber.since) void query.where('at', '>', subscriber.since);
    })
    .orderBy('letter_id', 'desc')
    .limit(LOOKED_AT)
    .pluck<boolean[]>('address_refused');
  // A letter that was accepted and whose report is still on its way comes before the one that is reported.
  const from = Math.max(0, newest.indexOf(true));
  const end = newest.indexOf(false, from);
  const inARow = (end < 0 ? newest.length : end) - from;
  await trx('subscribers')
    .where({ id: subscriberId })
    .update({ state: afterBounces(subscriber.state, inARow), bounces: inARow, bounce_said: fault });
}

/** An active subscriber whose refusals so far do not count any more. */
export const reachableAgain = (trx: Trx) => ({
  state: 'active',
  bounces: 0,
  bounce_said: '',
  restored_at: trx.raw('clock_timestamp()'),
});
