import { formatBytes, sentTexts } from '@keyroster/core';
import type { Db, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { log } from '../log.js';
import { emit } from '../live/live.js';
import type { Settings } from '../settings.js';
import { addresseeOf } from '../outlets/destination.js';
import type { OutletRow } from '../outlets/outlet-row.js';
import { parcelPictures } from './pictures.js';
import { lostSends, planSends } from '../outlets/plan.js';
import { feedTransport } from '../outlets/transport/feed.js';
import { mailTransport } from '../outlets/transport/mail.js';
import { micropubTransport } from '../outlets/transport/micropub.js';
import { webhookTransport } from '../outlets/transport/webhook.js';
import type { Destination, Outcome, Message, Transport } from '../outlets/transport/transport.js';
import { type Claimed, type SendRow, claim } from './claim.js';
import { settle } from './settle.js';
import { urlOfPost, type PostPlaces } from '../posts/url.js';

const SPEAK: Record<OutletRow['protocol'], Transport> = {
  micropub: micropubTransport,
  mail: mailTransport,
  feed: feedTransport,
  webhook: webhookTransport,
};

/**
 * Sends a piece that is due: marks it as being sent and commits, calls the outlet, and writes down what came
 * of it. Killed between the two, it is found as “being sent” and is either asked again by its key or put to a
 * person; it is never simply sent twice.
 */
export async function sendPiece(
  db: Db,
  sendId: number,
  settings: Pick<Settings, 'privateOutlets'>,
): Promise<void> {
  const claimed = await inTransaction(db, (trx) => claim(trx, sendId));
  if (!claimed) return;
  const outcome = await carry(db, claimed, settings).catch((error: unknown): Outcome => {
    log.error({ err: error, send: sendId }, 'sending');
    return { outcome: 'unsure', sentence: 'Something went wrong here while it was being sent.' };
  });
  await inTransaction(db, (trx) => settle(trx, claimed, outcome));
}

async function carry(
  db: Db,
  { send, piece, post, outlet }: Claimed,
  settings: Pick<Settings, 'privateOutlets'>,
): Promise<Outcome> {
  let to: Destination;
  try {
    to = await addresseeOf(db, outlet, settings);
  } catch {
    return {
      outcome: 'no',
      sentence: 'The credentials cannot be opened: they were sealed with another key. Give them again.',
    };
  }
  const blog = await db('blogs')
    .where({ id: send.blog_id })
    .first<{ title: string } & PostPlaces>('title', 'home', 'site');
  const url = urlOfPost(blog!, { slug: post.slug!, runLocal: post.run_local });
  const { pictureBytes } = outlet.limits;
  let pictures: Message['pictures'];
  try {
    pictures = await parcelPictures(db, piece, post, pictureBytes);
  } catch (error) {
    // The outlet has not been called yet, so nobody has to decide.
    log.error({ err: error, send: send.id }, 'pictures of a piece');
    return { outcome: 'again', sentence: 'Its pictures could not be drawn. Nothing was sent.' };
  }
  if (pictureBytes !== null && pictures.some((p) => p.bytes.length > pictureBytes))
    return {
      outcome: 'no',
      sentence: `A picture cannot be made as light as ${outlet.name} takes (${formatBytes(pictureBytes)}).`,
    };
  const parcel: Message = {
    key: send.key,
    subject: piece.subject,
    parts: sentTexts(piece.kind, piece.parts),
    tags: piece.tags,
    url: piece.parts.some((p) => p.includes(url)) ? url : '',
    pictures,
    blog: blog!.title,
  };
  return SPEAK[outlet.protocol](to, parcel, send.steps, async (steps) => {
    await db('sends')
      .where({ id: send.id })
      .update({ steps: JSON.stringify(steps) });
  });
}

/** Finds sends again that no job is at, and settles those that a process was sending when it died. */
export async function planOverdueSends(db: Db): Promise<void> {
  const { due, broken } = await lostSends(db);
  for (const id of due) await inTransaction(db, (trx) => planSends(trx, { sendId: id }));
  for (const id of broken) await inTransaction(db, (trx) => repair(trx, id));
}

async function repair(trx: Trx, id: number): Promise<void> {
  const send = await trx('sends').where({ id, state: 'sending' }).forUpdate().first<SendRow | undefined>();
  if (!send) return;
  const outlet = (await trx('outlets').where({ id: send.outlet_id }).first<OutletRow>())!;
  const sentence = 'The newsroom stopped while it was being sent.';
  const safe = outlet.knows_keys || outlet.protocol === 'feed';
  await trx('send_attempts')
    .where({ send_id: id, outcome: 'begun' })
    .update({ ended_at: trx.raw('clock_timestamp()'), outcome: 'unsure', sentence });
  await trx('sends')
    .where({ id })
    .update(
      safe
        ? { state: 'waiting', error: `${sentence} It is asked again by its key.` }
        : { state: 'unsure', error: `${sentence} It may have been sent.` },
    );
  if (safe) await planSends(trx, { sendId: id });
  await emit(trx, { blogId: send.blog_id, kind: 'outlet' });
}
