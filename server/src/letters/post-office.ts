import { createTransport, type Transporter } from 'nodemailer';
import { forRecipient } from '@keyroster/core';
import type { Settings } from '../settings.js';
import type { BuiltLetter } from './build.js';

/** How many letters are handed over at once; each has a connection of its own that is kept. */
export const HANDS = 8;

/** What came of handing a letter over. Unsure: it may have arrived. */
export type Handed = { outcome: 'sent' } | { outcome: 'failed' | 'again' | 'unsure'; fault: string };

export interface Recipient {
  email: string;
  name: string;
  /** That of this letter to them. */
  key: string;
}

type MailError = Error & { code?: string; command?: string; responseCode?: number };

/** The letter itself goes over with this command; before it nothing can have arrived. */
const FROM_HERE_ON = new Set(['DATA', 'MESSAGE']);

export function outcomeOf(error: MailError): Handed {
  const { responseCode = 0, command = '' } = error;
  if (responseCode >= 500)
    return { outcome: 'failed', fault: `Their mail server refused it (${responseCode}).` };
  if (responseCode >= 400)
    return { outcome: 'again', fault: `The mail server asks to try later (${responseCode}).` };
  if (error.code === 'EENVELOPE' || error.code === 'EMESSAGE')
    return { outcome: 'failed', fault: 'The mail server does not take this address.' };
  return FROM_HERE_ON.has(command)
    ? { outcome: 'unsure', fault: 'The mail server hung up before it said that it has the letter.' }
    : { outcome: 'again', fault: `The mail server could not be reached (${error.code ?? 'no answer'}).` };
}

/** The address alone, without the name in front of it. */
const bareAddress = (from: string): string => /<([^<>]+)>/.exec(from)?.[1] ?? from.trim();

/** Where letters come back to that cannot be delivered, and letters that ask to be taken off the list; by the key. */
export const bounceAddress = (mailFrom: string, key: string): string =>
  `bounce+${key}@${bareAddress(mailFrom).split('@').pop()}`;
export const leaveAddress = (mailFrom: string, key: string): string =>
  `leave+${key}@${bareAddress(mailFrom).split('@').pop()}`;

/** The list's own name (RFC 2919): the same for every letter of a blog. */
const listId = (blogId: number, { host, pathname }: URL): string =>
  `letter-${blogId}.${`${host}${pathname}`.replace(/[^a-z0-9.-]+/gi, '-').replace(/^[-.]+|[-.]+$/g, '')}`;

/** Connections to the mail server that are kept from one letter to the next. */
export class PostOffice {
  private readonly transport: Transporter;

  constructor(private readonly settings: Pick<Settings, 'mailFrom'> & { mailServer: string }) {
    this.transport = createTransport({
      url: settings.mailServer,
      pool: true,
      maxConnections: HANDS,
      maxMessages: Infinity,
      connectionTimeout: 8000,
      greetingTimeout: 8000,
      socketTimeout: 20_000,
      disableFileAccess: true,
      disableUrlAccess: true,
    } as Parameters<typeof createTransport>[0]);
  }

  /**
   * Hands a letter over for one recipient, with what a list owes its readers: a way out that works by one click
   * (RFC 8058, RFC 2369) and its name (RFC 2919).
   */
  async hand(letter: BuiltLetter, blogId: number, to: Recipient, { trial = false } = {}): Promise<Handed> {
    const home = new URL(letter.blog.home);
    const leave = `${letter.blog.home}/letter/leave/${to.key}`;
    const { mailFrom } = this.settings;
    try {
      await this.transport.sendMail({
        from: { name: letter.blog.title, address: bareAddress(mailFrom) },
        to: { name: to.name, address: to.email },
        envelope: { from: bounceAddress(mailFrom, to.key), to: to.email },
        subject: trial ? `Trial: ${letter.subject}` : letter.subject,
        text: forRecipient(letter.text, to.key),
        html: forRecipient(letter.html, to.key),
        messageId: `<${to.key}@${home.hostname}>`,
        list: {
          id: { url: listId(blogId, home), comment: letter.blog.title },
          // Both in one field, which may stand once (RFC 2369, section 3).
          unsubscribe: [[leave, `mailto:${leaveAddress(mailFrom, to.key)}?subject=leave`]],
        },
        headers: {
          'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
          Precedence: 'bulk',
        },
      });
      return { outcome: 'sent' };
    } catch (error) {
      return outcomeOf(error as MailError);
    }
  }

  close(): void {
    this.transport.close();
  }
}
