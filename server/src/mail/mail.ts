import { createTransport } from 'nodemailer';
import type { Settings } from '../settings.js';

export interface Letter {
  to: { name: string; address: string };
  subject: string;
  text: string;
}

/**
 * Hands a letter to the newsroom's mail server (RFC 5321). Throws what the server answers; nothing at all is sent
 * where there is none.
 */
export async function sendLetter(
  { mailServer, mailFrom }: Pick<Settings, 'mailServer' | 'mailFrom'>,
  letter: Letter,
): Promise<void> {
  if (!mailServer) return;
  const transport = createTransport(mailServer, {
    from: mailFrom,
    headers: { 'Auto-Submitted': 'auto-generated' },
    disableFileAccess: true,
    disableUrlAccess: true,
  });
  try {
    await transport.sendMail(letter);
  } finally {
    transport.close();
  }
}
