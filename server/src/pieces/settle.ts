import type { Trx } from '../db/connect.js';
import { emit } from '../live/live.js';
import { planSends } from '../outlets/plan.js';
import type { Outcome } from '../outlets/transport/transport.js';
import { type Claimed } from './claim.js';

/** After so many failures in a row an outlet is left alone for a while, longer each time. */
const REST_AFTER = 3;

const REST_SECONDS = 20;

const MAX_REST_SECONDS = 900;

const MAX_ATTEMPTS = 12;

/**
 * Twice as long each time, up to a quarter of an hour, and a little at random so that not all come back at
 * once.
 */
const backOff = (attempts: number) =>
  Math.min(MAX_REST_SECONDS, 5 * 2 ** (attempts - 1)) * (0.75 + Math.random() / 2);

export async function settle(trx: Trx, { send, outlet, attempt }: Claimed, outcome: Outcome): Promise<void> {
  // A place where sending twice does no harm is simply asked again.
  const known = outcome.outcome === 'unsure' && outlet.knows_keys;
  const result = known ? 'again' : outcome.outcome;
  const sentence = known ? `${outcome.sentence} It is asked again by its key.` : outcome.sentence;
  await trx('send_attempts')
    .where({ id: attempt })
    .update({ ended_at: trx.raw('clock_timestamp()'), outcome: outcome.outcome, sentence });
  const held = await trx('sends').where({ id: send.id, state: 'sending' }).forUpdate().first('id');
  // Somebody said in the meantime what became of it.
  if (!held) return;
  if (result === 'sent') {
    await trx('sends')
      .where({ id: send.id })
      .update({
        state: 'sent',
        url: outcome.outcome === 'sent' ? outcome.url : '',
        error: '',
        sent_at: trx.raw('clock_timestamp()'),
      });
    if (outlet.failures > 0)
      await trx('outlets').where({ id: outlet.id }).update({ failures: 0, resting_until: null });
  } else if (result === 'again' && send.attempts < MAX_ATTEMPTS) {
    const seconds = ('afterSeconds' in outcome && outcome.afterSeconds) || backOff(send.attempts);
    await trx('sends')
      .where({ id: send.id })
      .update({
        state: 'waiting',
        error: sentence,
        next_at: trx.raw(`clock_timestamp() + ? * interval '1 second'`, [seconds]),
      });
    const [{ failures } = { failures: 0 }] = await trx('outlets')
      .where({ id: outlet.id })
      .increment('failures', 1)
      .returning<{ failures: number }[]>('failures');
    if (failures >= REST_AFTER)
      await trx('outlets')
        .where({ id: outlet.id })
        .update({
          resting_until: trx.raw(`clock_timestamp() + ? * interval '1 second'`, [
            Math.max(
              seconds,
              Math.min(MAX_REST_SECONDS, REST_SECONDS * 2 ** Math.min(6, failures - REST_AFTER)),
            ),
          ]),
        });
    await planSends(trx, { sendId: send.id });
  } else if (result === 'unsure')
    await trx('sends').where({ id: send.id }).update({ state: 'unsure', error: outcome.sentence });
  else
    await trx('sends')
      .where({ id: send.id })
      .update({
        state: 'failed',
        error:
          result === 'again' ? `${outcome.sentence} It was tried ${send.attempts} times.` : outcome.sentence,
      });
  await emit(trx, { blogId: send.blog_id, kind: 'outlet' });
}
