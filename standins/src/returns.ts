import { createTransport } from 'nodemailer';
import type { ParsedMail } from 'mailparser';
import type { SMTPServerEnvelope } from 'smtp-server';

/** Whose addresses the stand-in does not know, though it takes letters for them at first. */
const GONE = /^gone[.+@]/i;
const AFTER_MS = 500;

/**
 * Sends a report (RFC 3464) back to the sender of a letter for somebody whose address begins with “gone”: as mail
 * servers do that find out only later that there is nobody of this name.
 */
export async function returnLost(
  { mailFrom, rcptTo }: SMTPServerEnvelope,
  mail: ParsedMail,
  returnsTo: string,
): Promise<void> {
  const lost = rcptTo.map((to) => to.address).find((address) => GONE.test(address));
  if (!lost || !mailFrom || !mailFrom.address) return;
  await new Promise((done) => setTimeout(done, AFTER_MS));
  const [host, port] = returnsTo.split(':');
  const transport = createTransport({ host: host!, port: Number(port), ignoreTLS: true });
  const boundary = `report-${Date.now()}`;
  await transport
    .sendMail({
      // A report has an empty sender, so that none is sent about it (RFC 5321, 4.5.5).
      envelope: { from: '', to: mailFrom.address },
      raw: [
        'From: Mail Delivery <mailer@letterbox.example>',
        `To: <${mailFrom.address}>`,
        'Subject: Undelivered mail returned to sender',
        'MIME-Version: 1.0',
        `Content-Type: multipart/report; report-type=delivery-status; boundary="${boundary}"`,
        '',
        `--${boundary}`,
        'Content-Type: text/plain; charset=utf-8',
        '',
        `There is nobody of this name: ${lost}`,
        '',
        `--${boundary}`,
        'Content-Type: message/delivery-status',
        '',
        'Reporting-MTA: dns; letterbox.example',
        '',
        `Original-Recipient: rfc822;${lost}`,
        `Final-Recipient: rfc822;${lost}`,
        'Action: failed',
        'Status: 5.1.1',
        'Diagnostic-Code: smtp; 550 5.1.1 no such user',
        '',
        `--${boundary}`,
        'Content-Type: text/rfc822-headers',
        '',
        `Subject: ${(mail.subject ?? '').replace(/[^ -~]/g, '?')}`,
        `Message-ID: ${mail.messageId ?? ''}`,
        '',
        `--${boundary}--`,
        '',
      ].join('\r\n'),
    })
    .catch(() => undefined);
  transport.close();
}
