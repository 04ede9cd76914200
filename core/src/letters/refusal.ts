/** Where an SMTP session was when its server answered (RFC 5321, section 3). */
export type SmtpStep = 'connect' | 'sign-in' | 'sender' | 'recipient' | 'text';

/** What a server said no with: a reply code (RFC 5321, 4.2) and, where it gives one, a status (RFC 3463). */
export interface SmtpRefusal {
  at: SmtpStep;
  code: number;
  /** As in "5.1.1"; empty where the server gives none. */
  status: string;
}

/**
 * Whom a refusal is about. `address`: the recipient does not exist, and the next letter fares no better; `mailbox`:
 * this letter did not reach this recipient, which says nothing about the next; `recipient later`: this recipient may
 * be tried again; `server later`: the whole server asks for patience; `sender`: anything else, which is ours to fix.
 */
export type RefusalAbout = 'address' | 'mailbox' | 'recipient later' | 'server later' | 'sender';

/** Mailbox unavailable, user not local, mailbox name not allowed (RFC 5321, 4.2.3), where no status says more. */
const ABOUT_ADDRESS = new Set([550, 551, 553]);
/** The sender's mailbox and system, which RFC 3463 (3.2) counts among the addresses. */
const ABOUT_SENDER = new Set(['5.1.7', '5.1.8']);

/** Statuses of RFC 3463 that say something lasting about a recipient: 5.1.x (a bad address) and 5.2.1 (disabled). */
export const isAddressStatus = (status: string): boolean =>
  (/^5\.1\.\d+$/.test(status) && !ABOUT_SENDER.has(status)) || status === '5.2.1';

/** Says whom a refusal is about. Only a permanent one of the recipient, at RCPT, is about the address. */
export function refusalAbout({ at, code, status }: SmtpRefusal): RefusalAbout {
  const aboutOne = at === 'recipient' || at === 'text';
  if (code < 500) {
    // 421 ends the session (RFC 5321, 3.8); 4.3.x is the mail system's own condition (RFC 3463, 3.4).
    if (!aboutOne || code === 421 || status.startsWith('4.3.')) return 'server later';
    return at === 'text' && status === '' && code === 452 ? 'server later' : 'recipient later';
  }
  if (at === 'recipient') {
    if (isAddressStatus(status) || (status === '' && ABOUT_ADDRESS.has(code))) return 'address';
    return status.startsWith('5.2.') || (status === '' && code === 552) ? 'mailbox' : 'sender';
  }
  return at === 'text' && status.startsWith('5.2.') ? 'mailbox' : 'sender';
}

const MINUTE = 60_000;
/** How long a recipient, or a server, that asks for patience is tried. */
export const DEFERRED_FOR_MS = 3 * 24 * 60 * MINUTE;
/** The first pause and the longest: at least 30 minutes (RFC 5321, 4.5.4.1). */
const FIRST_PAUSE = 30 * MINUTE;
const LONGEST_PAUSE = 4 * 60 * MINUTE;

/** How long to wait after so many tries of one recipient, in milliseconds: growing, since each says "later" again. */
export const pauseAfter = (tries: number): number =>
  Math.min(LONGEST_PAUSE, FIRST_PAUSE * 2 ** Math.max(0, Math.min(20, tries - 1)));

/** How long to wait for a server that nothing could be handed to, in milliseconds: half a minute, growing to thirty. */
export const serverPauseAfter = (tries: number): number =>
  Math.min(FIRST_PAUSE, (MINUTE / 2) * 2 ** Math.max(0, Math.min(20, tries - 1)));
