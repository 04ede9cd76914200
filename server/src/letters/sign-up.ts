import type { SubscriberState } from '@keyroster/core';
import type { Db, Queryable, Trx } from '../db/connect.js';
import { planConfirmation } from '../jobs/queue.js';
import { reachableAgain } from './refusals.js';
import { forgetErasure } from './erased.js';

/** Letters that ask to confirm, to one address within a day; more would be a nuisance to its owner. */
const MAX_ASKED = 3;

/** Somebody on a list, as their link in a letter tells. */
export interface Listed {
  id: number;
  blogId: number;
  state: SubscriberState;
}

/**
 * Puts an address down that asks for the letter, and has it asked by mail whether it meant it. The same comes of an
 * address that is known: nobody learns who is on the list. Who is on it gets no letter; who left is asked again.
 */
export async function requestLetter(
  trx: Trx,
  { blogId, email, postId }: { blogId: number; email: string; postId: number | null },
): Promise<void> {
  await trx('subscribers')
    .insert({ blog_id: blogId, email, post_id: postId, state: 'asked', how: 'form' })
    .onConflict(['blog_id', 'email'])
    .ignore();
  const { rows } = await trx.raw<{ rows: { id: number }[] }>(
    `
      update subscribers
      set
        asked_letters = case
          when asked_letter_at > now() - interval '1 day' then asked_letters + 1
          else 1
        end,
        asked_letter_at = now()
      where
        blog_id = ?
        and email = ?
        and state <> 'active'
        and (asked_letter_at is null or asked_letter_at < now() - interval '1 day' or asked_letters < ?)
      returning
        id
    `,
    [blogId, email, MAX_ASKED],
  );
  for (const { id } of rows) await planConfirmation(trx, id);
}

export async function listedBy(db: Queryable, key: string): Promise<Listed | null> {
  return (
    (await db('subscribers').where({ key }).first<Listed | undefined>('id', 'blog_id as blogId', 'state')) ??
    null
  );
}

/** They said yes. An address that could not be reached is tried again. */
export async function confirmLetter(trx: Trx, { id }: Pick<Listed, 'id'>): Promise<void> {
  await trx('subscribers')
    .where({ id })
    .whereNot({ state: 'active' })
    .update({ confirmed_at: trx.fn.now(), left_at: null, ...reachableAgain(trx) });
  await forgetErasure(trx, id);
}

/** The letter that a link in it belongs to, and who got it. */
export interface SentLetter {
  sendId: number;
  letterId: number;
  subscriberId: number | null;
}

export async function sendBy(db: Queryable, key: string): Promise<SentLetter | null> {
  return (
    (await db('letter_sends')
      .where({ key })
      .first<SentLetter | undefined>(
        'id as sendId',
        'letter_id as letterId',
        'subscriber_id as subscriberId',
      )) ?? null
  );
}

/** Takes the reader of a letter off the list, once; said again, it is so already. */
export async function leaveList(trx: Trx, { sendId, subscriberId }: SentLetter): Promise<void> {
  if (subscriberId === null) return;
  const left = await trx('subscribers')
    .where({ id: subscriberId })
    .whereNot({ state: 'left' })
    .update({ state: 'left', left_at: trx.fn.now() });
  if (left > 0) await trx('letter_sends').where({ id: sendId }).update({ unsubscribed: true });
}

/** Sign-ups that were never confirmed are deleted: most of them never asked. */
export async function forgetUnconfirmed(db: Db): Promise<number> {
  return db('subscribers')
    .where({ state: 'asked' })
    .whereRaw(`coalesce(asked_letter_at, asked_at) < now() - interval '30 days'`)
    .delete();
}
