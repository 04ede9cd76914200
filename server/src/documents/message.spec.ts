import { simpleParser } from 'mailparser';
import { bodyText, type BodyNode } from '@keyroster/core';
import { ProblemError } from '../http/problem.js';
import { readDocument } from './read-document.js';

const read = (lines: readonly string[], name = 'draft.eml') =>
  readDocument(new TextEncoder().encode(lines.join('\r\n')), name);
const kinds = (body: BodyNode) => (body.content ?? []).map((block) => block.type);

/** RFC 5322, appendix A.1.1. */
const RFC_5322_A11 = [
  'From: John Doe <jdoe@machine.example>',
  'To: Mary Smith <mary@example.net>',
  'Subject: Saying Hello',
  'Date: Fri, 21 Nov 1997 09:55:06 -0600',
  'Message-ID: <1234@local.machine.example>',
  '',
  'This is a message just to say hello.',
  'So, "Hello".',
];

/** RFC 5322, appendix A.5: white space, comments and folding everywhere. */
const RFC_5322_A5 = [
  'From: Pete(A nice \\) chap) <pete(his account)@silly.test(his host)>',
  'To:A Group(Some people)',
  '     :Chris Jones <c@(Chris’s host.)public.example>,',
  '         joe@example.org,',
  '  John <jdoe@one.test> (my dear friend); (the end of the group)',
  'Cc:(Empty list)(start)Hidden recipients  :(nobody(that I know))  ;',
  'Date: Thu,',
  '      13',
  '        Feb',
  '          1969',
  '      23:32',
  '               -0330 (Newfoundland Time)',
  'Message-ID:              <testabcd.1234@silly.test>',
  '',
  'Testing.',
];

/** After RFC 2046, section 5.1.1: two parts, with words before and after them that are no part. */
const RFC_2046_511 = [
  'From: Nathaniel Borenstein <nsb@bellcore.example>',
  'To: Ned Freed <ned@innosoft.example>',
  'Date: Sun, 21 Mar 1993 23:56:48 -0800 (PST)',
  'Subject: Sample message',
  'MIME-Version: 1.0',
  'Content-type: multipart/mixed; boundary="simple boundary"',
  '',
  'This is the preamble.  It is to be ignored.',
  '',
  '--simple boundary',
  '',
  'This is implicitly typed plain US-ASCII text.',
  'It does NOT end with a linebreak.',
  '--simple boundary',
  'Content-type: text/plain; charset=us-ascii',
  '',
  'This is explicitly typed plain US-ASCII text.',
  'It DOES end with a linebreak.',
  '',
  '--simple boundary--',
  '',
  'This is the epilogue.  It is also to be ignored.',
];

/** RFC 2047, section 8: words in the subject in another alphabet and across lines. */
const RFC_2047_8 = [
  'From: =?ISO-8859-1?Q?Olle_J=E4rnefors?= <ojarnef@admin.kth.example>',
  'To: ietf-822@dimacs.rutgers.example',
  'Subject: =?ISO-8859-1?B?SWYgeW91IGNhbiByZWFkIHRoaXMgeW8=?=',
  ' =?ISO-8859-2?B?dSB1bmRlcnN0YW5kIHRoZSBleGFtcGxlLg==?=',
  'Content-Type: text/plain; charset=iso-8859-1',
  'Content-Transfer-Encoding: quoted-printable',
  '',
  'Olle J=E4rnefors sends =',
  'greetings.',
];

const PNG =
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8BQDwAEhQGAhKmMIQAAAABJRU5ErkJggg==';
const WITH_PICTURES = [
  'From: Odette Marsh <odette@boats.example>',
  'Subject: Re: Fwd: The clock at Gannet',
  'MIME-Version: 1.0',
  'Content-Type: multipart/mixed; boundary=outer',
  '',
  '--outer',
  'Content-Type: multipart/related; boundary=inner',
  '',
  '--inner',
  'Content-Type: text/html; charset=utf-8',
  'Content-Transfer-Encoding: 8bit',
  '',
  '<h2>Four clocks</h2><p>One was <b>fast</b>.</p><p><img src="cid:clock@boats.example" alt="The clock"></p><script>alert(1)</script>',
  '--inner',
  'Content-Type: image/png',
  'Content-ID: <clock@boats.example>',
  'Content-Transfer-Encoding: base64',
  '',
  PNG,
  '--inner--',
  '--outer',
  'Content-Type: image/png; name="second.png"',
  'Content-Disposition: attachment; filename="second.png"',
  'Content-Transfer-Encoding: base64',
  '',
  PNG,
  '--outer',
  'Content-Type: application/pdf; name="bill.pdf"',
  'Content-Disposition: attachment; filename="bill.pdf"',
  'Content-Transfer-Encoding: base64',
  '',
  'JVBERi0xLjQK',
  '--outer--',
];

describe('a message brought in as a draft', () => {
  it.each([
    ['RFC 5322, A.1.1', RFC_5322_A11],
    ['RFC 5322, A.5', RFC_5322_A5],
    ['RFC 2046, 5.1.1', RFC_2046_511],
    ['RFC 2047, 8', RFC_2047_8],
  ])('has the subject and words that another parser finds: %s', async (_, lines) => {
    const other = await simpleParser(lines.join('\r\n'));
    const mine = await read(lines);
    expect(mine.title).toBe(other.subject ?? null);
    const plain = (text: string) => text.replace(/\s+/g, ' ').trim();
    expect(plain(bodyText(mine.body))).toBe(plain(other.text ?? ''));
    const sender = other.from?.value[0];
    expect(mine.report.remarks.join(' ')).toContain(sender!.name || sender!.address!);
  });

  it('keeps structure and pictures, and says what it left out', async () => {
    const { title, body, pictures, report } = await read(WITH_PICTURES);
    expect(title).toBe('The clock at Gannet');
    expect(kinds(body)).toEqual(['heading', 'paragraph', 'picture', 'picture']);
    expect(pictures.map((p) => p.dataUri)).toEqual([
      `data:image/png;base64,${PNG}`,
      `data:image/png;base64,${PNG}`,
    ]);
    expect(report.dropped).toMatchObject({ script: 1 });
    expect(report.remarks).toEqual([
      'One attached file that is no picture was left out.',
      'It is from Odette Marsh.',
    ]);
  });

  it('joins the lines that a mail program wrapped, and leaves the signature out', async () => {
    const { body, report } = await read([
      'From: a@boats.example',
      'Subject: Wrapped',
      '',
      'The gland wept for a week before anybody looked at it, and then it was',
      'found that the packing had gone hard.',
      '',
      'Roses are red,',
      'locks are wet.',
      '',
      '-- ',
      'Odette Marsh, Gannet Wharf',
    ]);
    expect(bodyText(body)).toContain('at it, and then it was found that');
    expect(bodyText(body)).toMatch(/Roses are red,\s+locks are wet\./);
    expect(bodyText(body)).not.toContain('Gannet Wharf');
    expect(report.remarks).toContain('The signature under the message was left out.');
  });

  it.each([
    ['nothing but words', ['Not a message at all']],
    ['bytes', ['\u0000\u0001\u0002']],
  ])('is refused with a sentence when it is none: %s', async (_, lines) => {
    await expect(read(lines)).rejects.toThrow(ProblemError);
  });

  it('that is nested for ever, or ends half-way, does no harm', async () => {
    const nested = Array.from({ length: 5000 }, (_, i) => [
      `Content-Type: multipart/mixed; boundary=b${i}`,
      '',
      `--b${i}`,
    ]).flat();
    await read(['From: a@b.example', 'Subject: Deep', ...nested]).catch((error: unknown) => {
      expect(error).toBeInstanceOf(ProblemError);
    });
    const half = await read(WITH_PICTURES.slice(0, 14));
    expect(half.title).toBe('The clock at Gannet');
  });
});
