import { HtmlValidate } from 'html-validate';
import {
  NIL_KEY,
  DEFERRED_FOR_MS,
  afterBounces,
  countedLinks,
  forRecipient,
  isAboutAddress,
  letterHtml,
  letterText,
  pauseAfter,
  readDeliveryStatus,
  refusalAbout,
  serverPauseAfter,
  type LetterContent,
} from './index.js';

const LEAVE = `https://blog.example/letter/leave/${NIL_KEY}`;
const letter: LetterContent = {
  blog: { title: 'Ice & <Iron>', home: 'https://blog.example' },
  subject: 'Three posts “on” ice & iron',
  intro: 'Dear all,\nit froze.\n\nStay <warm>.',
  posts: [
    {
      title: 'A < B',
      url: 'https://blog.example/a?x=1&y=2',
      facts: 'by Ada, Towpath',
      excerpt: 'One "sentence".',
      whole: null,
      picture: { url: 'https://blog.example/media/1', alt: 'A "boat"' },
    },
    {
      title: 'Whole',
      url: 'https://blog.example/b',
      facts: '',
      excerpt: 'Not this.',
      whole: { html: '<p>All <a href="https://else.example/">of it</a>.</p>', text: 'All of it.' },
      picture: null,
    },
  ],
  leaveUrl: LEAVE,
};

describe('a letter', () => {
  it('is a valid page in HTML, whatever stands in it', async () => {
    const report = await new HtmlValidate({
      extends: ['html-validate:standard'],
      // Mail programs keep no style sheet, so that styles stand beside their parts.
      rules: { 'no-inline-style': 'off', 'long-title': 'off' },
    }).validateString(letterHtml(letter, 'https://blog.example/letter/seen/1.gif'));
    expect(report.results.flatMap((r) => r.messages.map((m) => m.message))).toEqual([]);
  });

  it('says the same in plain words', () => {
    expect(letterText(letter)).toBe(
      [
        'Dear all,\nit froze.',
        'Stay <warm>.',
        'A < B',
        'by Ada, Towpath',
        'One "sentence".',
        'Read it on the blog: https://blog.example/a?x=1&y=2',
        'WHOLE',
        'All of it.',
        'Read it on the blog: https://blog.example/b',
        `-- \nIce & <Iron>, https://blog.example\nYou get this because you signed up for the letter of Ice & <Iron>.\nUnsubscribe: ${LEAVE}`,
      ].join('\n\n'),
    );
  });

  it('counts links, never the way out, and is one for each recipient', () => {
    const through = (n: number) => `https://blog.example/letter/to/${NIL_KEY}/${n}`;
    const { html, urls } = countedLinks(letterHtml(letter), LEAVE, through);
    expect(urls).toEqual([
      'https://blog.example',
      'https://blog.example/a?x=1&y=2',
      'https://blog.example/b',
      'https://else.example/',
    ]);
    const own = forRecipient(html, '1b4e28ba-2fa1-11d2-883f-0016d3cca427');
    expect(own).not.toContain(NIL_KEY);
    expect(own).toContain('href="https://blog.example/letter/leave/1b4e28ba-2fa1-11d2-883f-0016d3cca427"');
    expect(own.match(/letter\/to\/1b4e28ba-2fa1-11d2-883f-0016d3cca427\/1"/g)).toHaveLength(3);
    expect(own).not.toContain('href="https://else.example/"');
  });
});

describe('a report of delivery', () => {
  // RFC 3464, appendix E.1 (from memory, the addresses shortened).
  const SIMPLE = `Reporting-MTA: dns; cs.utk.example

Original-Recipient: rfc822;louisl@larry.slip.umd.example
Final-Recipient: rfc822;louisl@larry.slip.umd.example
Action: failed
Status: 4.0.0
Diagnostic-Code: smtp; 426 connection timed out
Last-Attempt-Date: Thu, 7 Jul 1994 17:15:49 -0400
`;
  // After appendix E.2: several recipients, a letter that is only late among them.
  const SEVERAL = `Reporting-MTA: dns; cs.utk.example\r
\r
Original-Recipient: rfc822;arathib@vnet.ibm.example\r
Final-Recipient: rfc822;arathib@vnet.ibm.example\r
Action: failed\r
Status: 5.0.0 (permanent failure)\r
Diagnostic-Code: smtp;\r
 550 'arathib@vnet.IBM.example' is not a\r
 registered gateway user\r
Remote-MTA: dns; vnet.ibm.example\r
\r
Original-Recipient: rfc822;johnh@hpnjld.njd.hp.example\r
Final-Recipient: rfc822;johnh@hpnjld.njd.hp.example\r
Action: delayed\r
Status: 4.0.0 (hpnjld.njd.jp.com: host name lookup failure)\r
\r
Original-Recipient: rfc822;wsnell@sdcc13.ucsd.example\r
Final-Recipient: rfc822;wsnell@sdcc13.ucsd.example\r
Action: failed\r
Status: 5.0.0\r
Diagnostic-Code: smtp; 550 user unknown\r
`;

  it('tells of each recipient what became of the letter', () => {
    expect(readDeliveryStatus(SIMPLE)).toEqual([
      {
        recipient: 'louisl@larry.slip.umd.example',
        action: 'failed',
        status: '4.0.0',
        said: '426 connection timed out',
      },
    ]);
    const several = readDeliveryStatus(SEVERAL);
    expect(several.map((d) => [d.recipient.split('@')[0], d.action, d.status])).toEqual([
      ['arathib', 'failed', '5.0.0'],
      ['johnh', 'delayed', '4.0.0'],
      ['wsnell', 'failed', '5.0.0'],
    ]);
    expect(several[0]!.said).toBe("550 'arathib@vnet.IBM.example' is not a registered gateway user");
    // 5.0.0 says nothing of what is wrong (RFC 3463, 3.1): it does not count against the address.
    expect(several.map(isAboutAddress)).toEqual([false, false, false]);
  });

  it.each([
    '',
    'Reporting-MTA: dns; a',
    'a\n\nAction: failed',
    'a\n\nFinal-Recipient: rfc822;x@y\nAction: lost',
  ])('tells nothing of %j', (text) => expect(readDeliveryStatus(text)).toEqual([]));

  // RFC 6533, section 3: utf-8-addr-xtext and utf-8-addr-unitext.
  it.each(['utf-8; j\\x{F6}rg\\x{1F6A2}@example.org', 'utf-8; jörg🚢@example.org'])(
    'reads the address %s',
    (field) =>
      expect(
        readDeliveryStatus(`a\n\nFinal-Recipient: ${field}\nAction: failed\nStatus: 5.1.1`)[0],
      ).toMatchObject({
        recipient: 'jörg🚢@example.org',
        status: '5.1.1',
      }),
  );

  it('ends a subscription with the second address in a row that is refused', () => {
    expect([0, 1, 2, 3].map((n) => afterBounces('active', n))).toEqual([
      'active',
      'active',
      'bounced',
      'bounced',
    ]);
    // A subscriber who left has left.
    expect(afterBounces('left', 9)).toBe('left');
  });
});

describe('a refusal', () => {
  // RFC 5321, 4.2.2 and 4.2.3; the statuses are of RFC 3463, section 3, and the IANA registry of enhanced status codes.
  it.each([
    ['recipient', 550, '5.1.1', 'address'],
    ['recipient', 550, '5.1.10', 'address'],
    ['recipient', 550, '5.2.1', 'address'],
    ['recipient', 550, '', 'address'],
    ['recipient', 551, '', 'address'],
    ['recipient', 553, '', 'address'],
    ['recipient', 550, '5.1.8', 'sender'],
    ['recipient', 553, '5.1.7', 'sender'],
    ['recipient', 550, '5.7.1', 'sender'],
    ['recipient', 554, '', 'sender'],
    ['recipient', 530, '5.7.0', 'sender'],
    ['recipient', 552, '5.2.2', 'mailbox'],
    ['recipient', 552, '', 'mailbox'],
    ['text', 552, '', 'sender'],
    ['text', 554, '5.7.1', 'sender'],
    ['text', 550, '5.1.1', 'sender'],
    ['text', 552, '5.2.2', 'mailbox'],
    ['sign-in', 535, '5.7.8', 'sender'],
    ['sender', 550, '', 'sender'],
    ['sender', 550, '5.1.1', 'sender'],
    ['connect', 554, '', 'sender'],
    ['recipient', 451, '4.7.1', 'recipient later'],
    ['recipient', 450, '', 'recipient later'],
    ['recipient', 452, '4.2.2', 'recipient later'],
    ['recipient', 421, '', 'server later'],
    ['recipient', 451, '4.3.2', 'server later'],
    ['text', 451, '', 'recipient later'],
    ['text', 452, '', 'server later'],
    ['sender', 451, '', 'server later'],
    ['sign-in', 454, '4.7.0', 'server later'],
    ['connect', 421, '', 'server later'],
  ] as const)('at %s with %i %s is about the %s', (at, code, status, about) =>
    expect(refusalAbout({ at, code, status })).toBe(about),
  );

  it('has a recipient tried again with growing pauses of at least half an hour (RFC 5321, 4.5.4.1)', () => {
    const pauses = [1, 2, 3, 4, 5, 6, 1000].map((n) => pauseAfter(n) / 60_000);
    expect(pauses).toEqual([30, 60, 120, 240, 240, 240, 240]);
    let [tries, waited] = [0, 0];
    while (waited <= DEFERRED_FOR_MS) waited += pauseAfter(++tries);
    expect(tries).toBe(21);
    expect([1, 2, 7, 8, 99].map((n) => serverPauseAfter(n) / 1000)).toEqual([30, 60, 1800, 1800, 1800]);
  });
});
