import { isAddressStatus } from './refusal.js';

/** What a mail server says became of a letter to one recipient. */
export interface Delivery {
  recipient: string;
  action: 'failed' | 'delayed' | 'delivered' | 'relayed' | 'expanded';
  /** As in RFC 3463: 5.1.1 is an address that does not exist. */
  status: string;
  /** In words, as far as it is told. */
  said: string;
}

const ACTIONS: readonly string[] = ['failed', 'delayed', 'delivered', 'relayed', 'expanded'];

/** Fields of a block, folded lines joined (RFC 5322, 2.2.3); of several with one name the first. */
function fieldsOf(block: string): Map<string, string> {
  const fields = new Map<string, string>();
  for (const line of block.replace(/\n[ \t]+/g, ' ').split('\n')) {
    const colon = line.indexOf(':');
    const name = line.slice(0, colon).trim().toLowerCase();
    if (colon > 0 && !fields.has(name)) fields.set(name, line.slice(colon + 1).trim());
  }
  return fields;
}

/** What follows the type: “rfc822; a@b.example” is a@b.example. Comments in brackets are dropped. */
const valueOf = (field: string | undefined): string =>
  (field ?? '')
    .replace(/^[^;]*;/, '')
    .replace(/\([^()]*\)/g, '')
    .trim();

/** An address of a report; one of type utf-8 may have letters as \x{4E2D} (utf-8-addr-xtext, RFC 6533, section 3). */
const addressOf = (field: string | undefined): string =>
  /^\s*utf-8\s*;/i.test(field ?? '')
    ? valueOf(field).replace(/\\x\{([0-9a-f]{1,6})\}/gi, (all, hex: string) => {
        const point = Number.parseInt(hex, 16);
        return point <= 0x10ffff ? String.fromCodePoint(point) : all;
      })
    : valueOf(field);

/**
 * Reads the part of type message/delivery-status of a report (RFC 3464, section 2), or of
 * message/global-delivery-status (RFC 6533): blocks of fields, the first about the message, each further one about a
 * recipient. A block without a known action is dropped.
 */
export function readDeliveryStatus(text: string): Delivery[] {
  const [, ...blocks] = text
    .replace(/\r\n?/g, '\n')
    .trim()
    .split(/\n[ \t]*\n+/);
  return blocks.flatMap((block) => {
    const fields = fieldsOf(block);
    const action = valueOf(fields.get('action')).toLowerCase();
    // Who was written to, where the letter was sent on to somebody else.
    const recipient = addressOf(fields.get('original-recipient')) || addressOf(fields.get('final-recipient'));
    if (!ACTIONS.includes(action) || recipient === '') return [];
    return [
      {
        recipient: recipient.replace(/^<|>$/g, ''),
        action: action as Delivery['action'],
        status: /\d\.\d{1,3}\.\d{1,3}/.exec(fields.get('status') ?? '')?.[0] ?? '',
        said: valueOf(fields.get('diagnostic-code')),
      },
    ];
  });
}

/** Does a report say something lasting about the recipient? The same statuses count as at RCPT. */
export const isAboutAddress = ({ action, status }: Pick<Delivery, 'action' | 'status'>): boolean =>
  action === 'failed' && isAddressStatus(status);
