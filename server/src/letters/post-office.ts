import { forRecipient, refusalAbout } from '@keyroster/core';
import { SmtpSession, mailServerAt, type SmtpEnd } from '../mail/smtp.js';
import type { Settings } from '../settings.js';
import type { BuiltLetter } from './build.js';

/** How many letters are sent at once; each has a session of its own that is kept. */
export const CONCURRENT_SENDS = 8;

/**
 * What came of a letter to one recipient. `failed`: not this letter, which says nothing of the next; `gone`: the
 * address does not exist; `deferred`: this recipient may be tried again; `wait`: nothing can be sent for now; `stop`:
 * the server refuses us, and `reason` tells two refusals of one kind; `unsure`: it may have arrived.
 */
export type Handed =
  | { outcome: 'sent' }
  | Fault<'failed'>
  | Fault<'gone'>
  | Fault<'deferred'>
  | Fault<'wait'>
  | Fault<'unsure'>
  | (Fault<'stop'> & { reason: string });
interface Fault<O extends string> {
  outcome: O;
  fault: string;
}

export interface Recipient {
  email: string;
  name: string;
  /** That of this letter to them. */
  key: string;
}

const OUTCOMES = {
  address: 'gone',
  mailbox: 'failed',
  'recipient later': 'deferred',
  'server later': 'wait',
} as const;

/** What a mail server refuses that is ours to fix, by where it said so. */
const REFUSES = {
  connect: 'refuses connections of the newsroom',
  'sign-in': 'does not accept the newsroom’s sign-in',
  sender: 'does not accept the sender address of the newsroom (MAIL_FROM)',
  recipient: 'refuses to pass the letter on',
  text: 'refuses the letter itself',
} as const;

export function outcomeOf(end: SmtpEnd): Handed {
  if (end.end === 'accepted') return { outcome: 'sent' };
  if (end.end === 'lost')
    return end.mayHaveArrived
      ? { outcome: 'unsure', fault: 'The mail server did not answer whether it has the letter.' }
      : { outcome: 'wait', fault: `The mail server could not be reached (${end.said}).` };
  const about = refusalAbout(end);
  if (about === 'sender')
    return {
      outcome: 'stop',
      fault: `The mail server ${REFUSES[end.at]}: ${end.said}`,
      reason: `${end.at} ${end.code} ${end.status}`,
    };
  const what = about.endsWith('later') ? 'The mail server says to try later' : 'Their mail server refused it';
  return { outcome: OUTCOMES[about], fault: `${what}: ${end.said}` };
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

/** Sessions with the mail server that are kept from one letter to the next. */
export class PostOffice {
  private readonly free: SmtpSession[] = [];

  constructor(
    private readonly settings: Pick<Settings, 'mailFrom'> & { mailServer: string },
    private readonly timeouts: ConstructorParameters<typeof SmtpSession>[1] = {},
  ) {}

  /**
   * Sends a letter to one recipient, with what a list owes its readers: a way out that works by one click (RFC 8058,
   * RFC 2369) and its name (RFC 2919).
   */
  async deliver(letter: BuiltLetter, blogId: number, to: Recipient, { trial = false } = {}): Promise<Handed> {
    const home = new URL(letter.blog.home);
    const leave = `${letter.blog.home}/letter/leave/${to.key}`;
    const { mailFrom, mailServer } = this.settings;
    const session = this.free.pop() ?? new SmtpSession(mailServerAt(mailServer), this.timeouts);
    const end = await session.send({
      from: { name: letter.blog.title, address: bareAddress(mailFrom) },
      to: { name: to.name, address: to.email },
      envelope: { from: bounceAddress(mailFrom, to.key), to: to.email },
      subject: trial ? `Trial: ${letter.subject}` : letter.subject,
      text: forRecipient(letter.text, to.key),
      html: forRecipient(letter.html, to.key),
      messageId: `<${to.key}@${home.hostname}>`,
      list: {
        id: { url: listId(blogId, home), comment: letter.blog.title },
        // Both in one field, which may occur once (RFC 2369, section 3).
        unsubscribe: [[leave, `mailto:${leaveAddress(mailFrom, to.key)}?subject=leave`]],
      },
      headers: {
        'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
        Precedence: 'bulk',
      },
    });
    this.free.push(session);
    return outcomeOf(end);
  }

  close(): void {
    for (const session of this.free) session.close();
  }
}
