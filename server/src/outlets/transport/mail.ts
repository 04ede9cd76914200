import { lookup } from 'node:dns/promises';
import { escapeHtml } from '@keyroster/core';
import { SmtpSession, type SmtpEnd } from '../../mail/smtp.js';
import { isOpenAddress } from './call.js';
import { textHtml } from './html.js';
import type { Destination, Outcome, Transport } from './transport.js';

/** A session with the outlet's mail server, whose address was checked first. */
async function sessionWith(to: Destination): Promise<SmtpSession | Outcome> {
  const { host = '', port = 587, secure = false } = to.settings;
  const found = await lookup(host).catch(() => null);
  if (!found)
    return { outcome: 'again', sentence: `The mail server ${host || '(none)'} could not be found.` };
  if (!to.allowed.includes(`${host}:${port}`) && !isOpenAddress(found.address))
    return {
      outcome: 'no',
      sentence: `${host} is an address within a private network. It is not asked; the settings can allow it.`,
    };
  const { user, password = '' } = to.credentials;
  return new SmtpSession(
    {
      connection: { host: found.address, port, secure, tls: { servername: host } },
      ...(user ? { auth: { user, pass: password } } : {}),
    },
    { socketTimeout: to.patienceMs ?? 12_000 },
  );
}

function outcomeOf(to: Destination, end: Exclude<SmtpEnd, { end: 'accepted' }>): Outcome {
  if (end.end === 'lost')
    return end.mayHaveArrived
      ? {
          outcome: 'unsure',
          sentence: `The mail server of ${to.name} did not answer whether it has the letter.`,
        }
      : { outcome: 'again', sentence: `The mail server of ${to.name} could not be reached (${end.said}).` };
  if (end.code < 500) return { outcome: 'again', sentence: `${to.name} says to try later (${end.code}).` };
  return end.at === 'sign-in'
    ? { outcome: 'no', sentence: `${to.name} does not accept the credentials (${end.code}).` }
    : { outcome: 'no', sentence: `${to.name} refused it (${end.code}).` };
}

/**
 * Mails a piece to the outlet's list by SMTP (RFC 5321), as text and as HTML. The key is the letter's
 * Message-ID.
 */
export const mailTransport: Transport = async (to, parcel) => {
  const session = await sessionWith(to);
  if ('outcome' in session) return session;
  const text = parcel.parts.join('\n\n');
  try {
    const end = await session.send({
      from: to.settings.from ?? '',
      to: to.address,
      subject: parcel.subject || parcel.parts[0]!.split('\n')[0]!.slice(0, 120),
      text,
      html:
        parcel.pictures
          .map((p, i) => `<p><img src="cid:picture-${i}" alt="${escapeHtml(p.alt)}" width="560"></p>`)
          .join('') + textHtml(text),
      messageId: `<${parcel.key}@${(to.settings.from ?? '').split('@').pop()?.replace(/[>\s]/g, '') || 'key-roster.invalid'}>`,
      attachments: parcel.pictures.map((p, i) => ({
        filename: p.name,
        content: p.bytes,
        contentType: p.type,
        cid: `picture-${i}`,
      })),
    });
    if (end.end !== 'accepted') return outcomeOf(to, end);
    return { outcome: 'sent', url: '', sentence: 'The list has the letter.' };
  } finally {
    session.close();
  }
};

/** Signs in and sends nothing. */
export async function tryMail(to: Destination): Promise<Outcome> {
  const session = await sessionWith(to);
  if ('outcome' in session) return session;
  try {
    const failed = await session.open();
    return failed && failed.end !== 'accepted'
      ? outcomeOf(to, failed)
      : { outcome: 'sent', url: '', sentence: `${to.name} accepts letters from us.` };
  } finally {
    session.close();
  }
}
