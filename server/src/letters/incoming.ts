import PostalMime from 'postal-mime';
import { SMTPServer } from 'smtp-server';
import {
  afterBounce,
  isLasting,
  readDeliveryStatus,
  type Delivery,
  type SubscriberState,
} from '@keyroster/core';
import type { Db, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { log } from '../log.js';
import { leaveList, sendBy } from './sign-up.js';

/** More than a report needs, and less than would hold anybody up. */
const MAX_BYTES = 1_000_000;
const MAX_AT_ONCE = 20;
const OURS = /^<?(bounce|leave)\+([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})@/i;

/**
 * Takes what comes back of letters (RFC 5321): reports about what could not be delivered (RFC 3464), and letters that
 * ask to be taken off the list. Every address is one of a letter to one subscriber; nothing else is taken.
 */
export function incomingMail(db: Db): SMTPServer {
  return new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    size: MAX_BYTES,
    maxClients: MAX_AT_ONCE,
    banner: 'Key Roster',
    onRcptTo: ({ address }, _session, done) =>
      OURS.test(address)
        ? done()
        : done(Object.assign(new Error('There is nobody here of this name'), { responseCode: 550 })),
    onData: (stream, session, done) => {
      const parts: Buffer[] = [];
      stream.on('data', (part: Buffer) => {
        if (!stream.sizeExceeded) parts.push(part);
      });
      stream.on('end', () => {
        if (stream.sizeExceeded)
          return done(Object.assign(new Error('That is too large'), { responseCode: 552 }));
        takeAll(
          db,
          session.envelope.rcptTo.map((to) => to.address),
          Buffer.concat(parts),
        ).then(
          () => done(),
          (error: unknown) => {
            log.warn({ err: error }, 'incoming mail');
            done(Object.assign(new Error('Try again later'), { responseCode: 451 }));
          },
        );
      });
    },
  });
}

async function takeAll(db: Db, addresses: readonly string[], message: Buffer): Promise<void> {
  for (const address of addresses) {
    const [, what, key] = OURS.exec(address)!;
    if (what!.toLowerCase() === 'bounce') await receiveReport(db, key!.toLowerCase(), message);
    else
      await inTransaction(db, async (trx) => {
        const sent = await sendBy(trx, key!.toLowerCase());
        if (sent) await leaveList(trx, sent);
      });
  }
}

/** The part of a report that is for programs; what is none, such as a note that somebody is away, tells nothing. */
export async function deliveriesIn(message: Buffer): Promise<Delivery[]> {
  const mail = await PostalMime.parse(message, { forceRfc822Attachments: true });
  const part = mail.attachments.find((a) => a.mimeType === 'message/delivery-status');
  if (!part) return [];
  const text = typeof part.content === 'string' ? part.content : new TextDecoder().decode(part.content);
  return readDeliveryStatus(text);
}

export async function receiveReport(db: Db, key: string, message: Buffer): Promise<void> {
  // The address tells which letter it is about: a report names one recipient of it, or what they had it sent on to.
  const report = (await deliveriesIn(message)).find((d) => d.action === 'failed');
  if (!report) return;
  await inTransaction(db, async (trx) => {
    const [sent] = await trx('letter_sends')
      .where({ key })
      .where('bounced', false)
      .update({ bounced: true, state: 'failed', fault: faultOf(report) })
      .returning<{ subscriberId: number | null }[]>('subscriber_id as subscriberId');
    if (sent?.subscriberId) await countBounce(trx, sent.subscriberId, report);
  });
}

const faultOf = ({ status, said }: Delivery): string =>
  `It came back${status ? ` (${status})` : ''}${said ? `: ${said.slice(0, 200)}` : ''}.`;

async function countBounce(trx: Trx, id: number, report: Delivery): Promise<void> {
  const subscriber = await trx('subscribers')
    .where({ id })
    .forUpdate()
    .first<{ state: SubscriberState } | undefined>('state');
  if (!subscriber) return;
  const newest = await trx('letter_sends')
    .where({ subscriber_id: id })
    .whereIn('state', ['sent', 'failed'])
    .orderBy('id', 'desc')
    .limit(20)
    .pluck<boolean[]>('bounced');
  const inARow = newest.indexOf(false) < 0 ? newest.length : newest.indexOf(false);
  // This one among them.
  const after = afterBounce({ ...subscriber, bounces: Math.max(0, inARow - 1) }, isLasting(report));
  await trx('subscribers')
    .where({ id })
    .update({ ...after, bounce_said: faultOf(report) });
}

/**
 * Listens for what comes back. Where another process has the port, that one takes it all: it is not worth ending for.
 * Answers how to stop.
 */
export async function openMailIn(
  db: Db,
  { host, port }: { host: string; port: number },
): Promise<{ port: number; close: () => Promise<void> } | null> {
  const server = incomingMail(db);
  try {
    await new Promise<void>((ready, fail) => {
      server.once('error', fail);
      server.listen(port, host, () => {
        server.off('error', fail);
        ready();
      });
    });
  } catch (error) {
    log.warn({ err: error }, 'letters that come back are not taken here');
    return null;
  }
  server.on('error', (error) => log.warn({ err: error }, 'incoming mail'));
  const at = server.server.address();
  return {
    port: typeof at === 'object' && at ? at.port : port,
    close: () => new Promise<void>((closed) => server.close(() => closed())),
  };
}
