import { lookup } from 'node:dns/promises';
import { createTransport, type Transporter } from 'nodemailer';
import { escapeHtml } from '@keyroster/core';
import { isOpenAddress } from './call.js';
import { textHtml } from './html.js';
import type { Destination, Outcome, Transport } from './transport.js';

type MailError = Error & { code?: string; command?: string; responseCode?: number };

/** Until the whole letter has gone over nothing can have arrived; these are the commands before that. */
const BEFORE = new Set([
  'CONN',
  'EHLO',
  'HELO',
  'LHLO',
  'STARTTLS',
  'AUTH',
  'AUTH PLAIN',
  'AUTH LOGIN',
  'API',
  'MAIL FROM',
  'RCPT TO',
]);

/** A connection to the outlet's mail server, whose address was looked at first. */
async function transport(to: Destination): Promise<Transporter | Outcome> {
  const { host = '', port = 587, secure = false } = to.settings;
  const found = await lookup(host).catch(() => null);
  if (!found)
    return { outcome: 'again', sentence: `The mail server ${host || '(none)'} could not be found.` };
  if (!to.allowed.includes(`${host}:${port}`) && !isOpenAddress(found.address))
    return {
      outcome: 'no',
      sentence: `${host} is an address within a private network. It is not asked; the settings can allow it.`,
    };
  const { user, password } = to.credentials;
  return createTransport({
    host: found.address,
    port,
    secure,
    tls: { servername: host },
    ...(user ? { auth: { user, pass: password ?? '' } } : {}),
    connectionTimeout: 8000,
    greetingTimeout: 8000,
    socketTimeout: 12_000,
    disableFileAccess: true,
    disableUrlAccess: true,
  });
}

function errorOf(to: Destination, error: MailError): Outcome {
  if (error.code === 'EAUTH')
    return {
      outcome: 'no',
      sentence: `${to.name} does not accept the credentials (${error.responseCode ?? 'sign-in refused'}).`,
    };
  if (error.responseCode && error.responseCode >= 500)
    return { outcome: 'no', sentence: `${to.name} refused it (${error.responseCode}).` };
  if (error.responseCode && error.responseCode >= 400)
    return { outcome: 'again', sentence: `${to.name} asks to try later (${error.responseCode}).` };
  if (BEFORE.has(error.command ?? ''))
    return {
      outcome: 'again',
      sentence: `The mail server of ${to.name} could not be reached (${error.code ?? 'no answer'}).`,
    };
  return {
    outcome: 'unsure',
    sentence: `The mail server of ${to.name} hung up before it said that it has the letter.`,
  };
}

/**
 * Mails a piece to the outlet's list by SMTP (RFC 5321), as text and as HTML. The key is the letter's
 * Message-ID.
 */
export const mailTransport: Transport = async (to, parcel) => {
  const made = await transport(to);
  if ('outcome' in made) return made;
  const text = parcel.parts.join('\n\n');
  try {
    await made.sendMail({
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
    return { outcome: 'sent', url: '', sentence: 'The list has the letter.' };
  } catch (error) {
    return errorOf(to, error as MailError);
  } finally {
    made.close();
  }
};

/** Signs in and goes again. */
export async function tryMail(to: Destination): Promise<Outcome> {
  const made = await transport(to);
  if ('outcome' in made) return made;
  try {
    await made.verify();
    return { outcome: 'sent', url: '', sentence: `${to.name} takes letters from us.` };
  } catch (error) {
    return errorOf(to, { ...(error as MailError), command: 'CONN' } as MailError);
  } finally {
    made.close();
  }
}
