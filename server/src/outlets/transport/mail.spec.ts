import { AbruptMail, ENDINGS } from '../../testing/abrupt-mail.js';
import { mailTransport, tryMail } from './mail.js';
import type { Destination, Message } from './transport.js';

let mail: AbruptMail;
beforeEach(async () => {
  mail = await AbruptMail.open();
});
afterEach(() => mail.close());

const outlet = (): Destination => ({
  name: 'The Friday Letter',
  protocol: 'mail',
  address: 'list@letter.example',
  settings: { host: '127.0.0.1', port: mail.port, from: 'blog@example.org' },
  credentials: {},
  allowed: [`127.0.0.1:${mail.port}`],
  feed: '',
  patienceMs: 300,
});
const piece: Message = {
  ...{ key: 'k1', subject: 'Ice', parts: ['It froze.'], tags: [], url: '', pictures: [], blog: 'Test Lock' },
};
const sent = () => mailTransport(outlet(), piece, {}, () => Promise.resolve());

describe('a piece that is mailed', () => {
  it.each(ENDINGS)('is in doubt where the mail server has it and %s', async (ending) => {
    mail.ending = ending;
    expect((await sent()).outcome).toBe('unsure');
    expect(mail.accepted).toEqual(['list@letter.example']);
  });

  it('is tried again where the mail server closes before the text, or says so', async () => {
    mail.ending = 'before the text';
    expect((await sent()).outcome).toBe('again');
    mail.ending = null;
    mail.says = { RCPT: () => '451 4.7.1 Later' };
    expect(await sent()).toEqual({
      outcome: 'again',
      sentence: 'The Friday Letter says to try later (451).',
    });
    expect(mail.accepted).toEqual([]);
  });

  it('waits for a person where the mail server refuses it', async () => {
    mail.says = { dot: () => '554 5.6.0 No' };
    expect(await sent()).toEqual({ outcome: 'no', sentence: 'The Friday Letter refused it (554).' });
    mail.says = { greeting: () => '554 No' };
    expect(await tryMail(outlet())).toEqual({
      outcome: 'no',
      sentence: 'The Friday Letter refused it (554).',
    });
    mail.says = {};
    expect((await tryMail(outlet())).outcome).toBe('sent');
    expect((await sent()).outcome).toBe('sent');
  });
});
