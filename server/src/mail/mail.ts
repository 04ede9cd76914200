import { log } from '../log.js';
import type { Settings } from '../settings.js';
import { SmtpSession, mailServerAt } from './smtp.js';

export interface Letter {
  to: { name: string; address: string };
  subject: string;
  text: string;
}

/**
 * Sends a letter by the newsroom's mail server (RFC 5321); nothing at all is sent where there is none. Throws what the
 * server says where the letter did not arrive. Where it may have, it counts as sent: who misses it can ask again, and
 * nobody gets it twice.
 */
export async function sendLetter(
  { mailServer, mailFrom }: Pick<Settings, 'mailServer' | 'mailFrom'>,
  letter: Letter,
): Promise<void> {
  if (!mailServer) return;
  const session = new SmtpSession(mailServerAt(mailServer));
  try {
    const result = await session.send({
      from: mailFrom,
      headers: { 'Auto-Submitted': 'auto-generated' },
      ...letter,
    });
    if (result.end === 'accepted') return;
    if (result.end === 'lost' && result.mayHaveArrived) {
      log.warn({ subject: letter.subject }, 'the mail server did not answer; the letter may have been sent');
      return;
    }
    throw new Error(`The mail server did not accept a letter: ${result.said}`);
  } finally {
    session.close();
  }
}
