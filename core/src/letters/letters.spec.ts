import { HtmlValidate } from 'html-validate';
import {
  MAX_BOUNCES,
  NIL_KEY,
  afterBounce,
  countedLinks,
  forRecipient,
  isLasting,
  letterHtml,
  letterText,
  readDeliveryStatus,
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
    expect(several.map(isLasting)).toEqual([true, false, true]);
    expect(readDeliveryStatus(SIMPLE).map(isLasting)).toEqual([false]);
  });

  it.each([
    '',
    'Reporting-MTA: dns; a',
    'a\n\nAction: failed',
    'a\n\nFinal-Recipient: rfc822;x@y\nAction: lost',
  ])('tells nothing of %j', (text) => expect(readDeliveryStatus(text)).toEqual([]));

  it('ends what never arrives at once, and what is late after some in a row', () => {
    const active = { state: 'active', bounces: 0 } as const;
    expect(afterBounce(active, true)).toEqual({ state: 'bounced', bounces: 1 });
    let now: Parameters<typeof afterBounce>[0] = active;
    for (let i = 1; i < MAX_BOUNCES; i++) now = afterBounce(now, false);
    expect(now.state).toBe('active');
    expect(afterBounce(now, false).state).toBe('bounced');
    // Who left has left.
    expect(afterBounce({ state: 'left', bounces: 9 }, true).state).toBe('left');
  });
});
