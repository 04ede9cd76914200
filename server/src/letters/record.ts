import { DEFERRED_FOR_MS, pauseAfter, serverPauseAfter, type SubscriberState } from '@keyroster/core';
import type { Db, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { planLetter } from '../jobs/queue.js';
import { log } from '../log.js';
import { countRefusals } from './refusals.js';
import type { Handed, Recipient } from './post-office.js';

export interface Claimed extends Recipient {
  id: string;
  subscriberId: number;
  state: SubscriberState;
}

type Row = Claimed & { handed: Handed };
type Of<O extends Handed['outcome']> = Claimed & { handed: Extract<Handed, { outcome: O }> };

/**
 * Writes down what came of a letter to some recipients, as one change. Answers `pause` where nothing more can be sent
 * for now: the letter was stopped, or goes on later.
 */
export async function record(
  db: Db,
  letterId: number,
  claimed: readonly Claimed[],
  handed: readonly Handed[],
): Promise<'go on' | 'pause'> {
  const rows: Row[] = claimed.map((to, i) => ({ ...to, handed: handed[i]! }));
  const of = <O extends Handed['outcome']>(outcome: O) =>
    rows.filter((r) => r.handed.outcome === outcome) as unknown as Of<O>[];
  return inTransaction(db, async (trx) => {
    await endSends(trx, of('sent'), { state: 'sent' });
    await endSends(trx, of('unsure'), { state: 'unsure' });
    await endSends(trx, of('failed'), { state: 'failed', bounced: true });
    await endSends(trx, of('gone'), { state: 'failed', bounced: true, address_refused: true });
    for (const {
      subscriberId,
      handed: { fault },
    } of of('gone'))
      await countRefusals(trx, subscriberId, fault);
    await defer(trx, of('deferred'));
    await putBack(trx, of('wait'));
    if (rows.some((r) => r.handed.outcome === 'sent'))
      await trx('letters')
        .where({ id: letterId })
        .where((row) => row.where('tries', '>', 0).orWhereNotNull('trouble_since').orWhereNot('note', ''))
        .update({ tries: 0, trouble_since: null, note: '' });
    const stopped = await stopFor(trx, letterId, of('stop'));
    const [wait] = of('wait');
    if (!stopped && wait) await waitForServer(trx, letterId, wait.handed.fault);
    return stopped || wait ? 'pause' : 'go on';
  });
}

async function endSends(
  trx: Trx,
  rows: readonly { id: string; handed: Handed }[],
  changes: { state: string; bounced?: boolean; address_refused?: boolean },
): Promise<void> {
  if (rows.length === 0) return;
  await trx('letter_sends as s')
    .updateFrom(
      trx.raw('unnest(?::bigint[], ?::text[]) as r (id, fault)', [rows.map((r) => r.id), rows.map(faultOf)]),
    )
    .whereRaw('s.id = r.id')
    .update({ ...changes, fault: trx.raw('r.fault'), at: trx.raw('clock_timestamp()') });
}

const faultOf = ({ handed }: { handed: Handed }): string => (handed.outcome === 'sent' ? '' : handed.fault);

/** Nothing arrived and nothing was said of the recipient: they wait as before. */
const putBack = async (trx: Trx, rows: readonly Claimed[], changes: object = {}): Promise<void> => {
  if (rows.length === 0) return;
  await trx('letter_sends')
    .whereIn(
      'id',
      rows.map((r) => r.id),
    )
    .update({ state: 'waiting', ...changes });
};

/** To the back, with a pause that grows; reported as undelivered after three days. */
async function defer(trx: Trx, rows: readonly Of<'deferred'>[]): Promise<void> {
  for (const { id, handed } of rows) {
    const send = (await trx('letter_sends')
      .where({ id })
      .first<{ tries: number; late: boolean }>(
        'tries',
        trx.raw(`deferred_since < clock_timestamp() - ? * interval '1 millisecond' as late`, [
          DEFERRED_FOR_MS,
        ]),
      ))!;
    await trx('letter_sends')
      .where({ id })
      .update({
        state: send.late ? 'undelivered' : 'waiting',
        fault: send.late ? `Undelivered after three days. ${handed.fault}` : handed.fault,
        tries: send.tries + 1,
        deferred_since: trx.raw('coalesce(deferred_since, clock_timestamp())'),
        due_at: trx.raw(`clock_timestamp() + ? * interval '1 millisecond'`, [pauseAfter(send.tries + 1)]),
        at: trx.raw('clock_timestamp()'),
      });
  }
}

/**
 * The server refuses what is ours to fix: the letter stops, those it was being sent to wait at the back, and nobody is
 * struck off. What a person resumed after is not stopped for again where others have the letter since, nor for a
 * recipient who met it before: it is given up for them.
 */
async function stopFor(trx: Trx, letterId: number, rows: readonly Of<'stop'>[]): Promise<boolean> {
  if (rows.length === 0) return false;
  const letter = (await trx('letters')
    .where({ id: letterId })
    .forUpdate()
    .first<{ refusal: string; passed: boolean }>(
      'refusal',
      trx.raw(`
      exists (
        select 1 from letter_sends s where s.letter_id = letters.id and s.state = 'sent' and s.at > letters.resumed_at
      ) as passed
    `),
    ))!;
  const met = await trx('letter_sends')
    .whereIn(
      'id',
      rows.map((r) => r.id),
    )
    .select<{ id: string; refusal: string }[]>('id', 'refusal');
  const refusalOf = (id: string) => met.find((m) => m.id === id)?.refusal;
  const isGivenUp = ({ id, handed: { reason } }: Of<'stop'>) =>
    refusalOf(id) === reason || (letter.refusal === reason && letter.passed);
  await endSends(trx, rows.filter(isGivenUp), { state: 'failed' });
  const open = rows.filter((r) => !isGivenUp(r));
  for (const row of open)
    await putBack(trx, [row], { refusal: row.handed.reason, due_at: trx.raw('clock_timestamp()') });
  const [first] = open;
  if (!first) return false;
  const { fault, reason } = first.handed;
  await trx('letters')
    .where({ id: letterId, state: 'sending' })
    .update({
      state: 'stopped',
      refusal: reason,
      note: `Stopped: ${fault} No subscriber was removed. Resume the letter when this is fixed.`,
    });
  log.warn({ letter: letterId, reason }, 'letter stopped: the mail server refuses the newsroom');
  return true;
}

/** Nothing can be sent for now: the letter goes on later, and stops after three days of that. */
async function waitForServer(trx: Trx, letterId: number, fault: string): Promise<void> {
  const letter = (await trx('letters')
    .where({ id: letterId })
    .forUpdate()
    .first<{ tries: number; late: boolean }>(
      'tries',
      trx.raw(`trouble_since < clock_timestamp() - ? * interval '1 millisecond' as late`, [DEFERRED_FOR_MS]),
    ))!;
  await trx('letters')
    .where({ id: letterId, state: 'sending' })
    .update({
      tries: letter.tries + 1,
      trouble_since: trx.raw('coalesce(trouble_since, clock_timestamp())'),
      ...(letter.late
        ? {
            state: 'stopped',
            note: `Stopped after three days: ${fault} Resume the letter when this is fixed.`,
          }
        : { note: `${fault} It is tried again by itself.` }),
    });
  if (!letter.late) await planLetter(trx, letterId, serverPauseAfter(letter.tries + 1) / 1000);
}
