import PostalMime from 'postal-mime';
import { SMTPServer } from 'smtp-server';
import { isAboutAddress, readDeliveryStatus, type Delivery } from '@keyroster/core';
import type { Db } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { log } from '../log.js';
import { countRefusals } from './refusals.js';
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

/** RFC 3464, and RFC 6533 for addresses beyond ASCII. */
const REPORTS = new Set(['message/delivery-status', 'message/global-delivery-status']);

/** The part of a report that is for programs; a letter without one, such as a note that somebody is away, says nothing. */
export async function deliveriesIn(message: Buffer): Promise<Delivery[]> {
  const mail = await PostalMime.parse(message, { forceRfc822Attachments: true });
  const part = mail.attachments.find((a) => REPORTS.has(a.mimeType));
  if (!part) return [];
  const text = typeof part.content === 'string' ? part.content : new TextDecoder().decode(part.content);
  return readDeliveryStatus(text);
}

export async function receiveReport(db: Db, key: string, message: Buffer): Promise<void> {
  // The address tells which letter it is about: a report names one recipient of it, or what they had it sent on to.
  const report = (await deliveriesIn(message)).find((d) => d.action === 'failed');
  if (!report) return;
  const aboutAddress = isAboutAddress(report);
  await inTransaction(db, async (trx) => {
    const [sent] = await trx('letter_sends')
      .where({ key })
      .where('bounced', false)
      .update({ bounced: true, state: 'failed', fault: faultOf(report), address_refused: aboutAddress })
      .returning<{ subscriberId: number | null }[]>('subscriber_id as subscriberId');
    if (sent?.subscriberId && aboutAddress) await countRefusals(trx, sent.subscriberId, faultOf(report));
  });
}

const faultOf = ({ status, said }: Delivery): string =>
  `It came back${status ? ` (${status})` : ''}${said ? `: ${said.slice(0, 200)}` : ''}.`;

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
