import fc from 'fast-check';
import {
  bodyText,
  EMPTY_BODY,
  finderOf,
  replaceIn,
  replaceInBody,
  type BodyNode,
  type Replacing,
} from '../index.js';

describe('find and replace', () => {
  const finder = (r: Partial<Replacing>) => {
    const a = finderOf({ find: '', with: '', pattern: false, capitals: false, ...r });
    if (!a.ok) throw new Error(a.sentence);
    return a.find;
  };
  const text = (t: string, ...marks: string[]): BodyNode => ({
    type: 'text',
    text: t,
    ...(marks.length > 0 ? { marks: marks.map((type) => ({ type })) } : {}),
  });
  const doc = (...content: BodyNode[]): BodyNode => ({
    type: 'doc',
    content: [{ type: 'paragraph', content }],
  });

  it('takes signs as they are when it is no pattern', () => {
    expect(replaceIn('a.b (a.b) aXb', finder({ find: 'a.b', with: '$1' }))).toBe('$1 ($1) aXb');
    expect(replaceIn('Straße STRASSE straße', finder({ find: 'straße', with: 'road' }))).toBe(
      'road STRASSE road',
    );
    expect(replaceIn('Paddle paddle', finder({ find: 'paddle', with: 'winch', capitals: true }))).toBe(
      'Paddle winch',
    );
    fc.assert(
      fc.property(
        fc.string({ unit: 'grapheme', maxLength: 60 }),
        fc.string({ unit: 'grapheme', minLength: 1, maxLength: 4 }),
        (whole, find) => {
          expect(replaceIn(whole, finder({ find, with: '*', capitals: true }))).toBe(
            whole.split(find).join('*'),
          );
        },
      ),
    );
  });

  it('puts groups of a pattern in their place', () => {
    expect(replaceIn('12 inch and 7 inch', finder({ find: '(\\d+) inch', with: '$1″', pattern: true }))).toBe(
      '12″ and 7″',
    );
    expect(finderOf({ find: '(a', with: '', pattern: true, capitals: false })).toMatchObject({ ok: false });
    expect(finderOf({ find: 'a', with: '$1', pattern: true, capitals: false })).toMatchObject({
      ok: false,
      sentence: 'The pattern has no group, so $1 stands for nothing.',
    });
    expect(finderOf({ find: '(a)\\1', with: '', pattern: true, capitals: false })).toMatchObject({
      ok: false,
    });
    expect(finderOf({ find: '', with: '', pattern: false, capitals: false })).toMatchObject({ ok: false });
    expect(replaceIn('abc', finder({ find: 'x*', with: '-', pattern: true }))).toBe('abc');
  });

  // Patterns on which backtracking engines take exponential or steep polynomial time: the list of OWASP,
  // “Regular expression Denial of Service - ReDoS” (from memory).
  it.each(['^(a+)+$', '^([a-zA-Z]+)*$', '^(a|aa)+$', '^(a|a?)+$', '^(.*a){20}$', '(x+x+)+y'])(
    'ends for %s',
    (find) => {
      const long = `${'a'.repeat(2000)}!`;
      expect(replaceIn(long, finder({ find, with: '', pattern: true }))).toHaveLength(long.length);
    },
  );

  it('keeps the build and the style of a text, and finds words across styles', () => {
    const body = doc(
      text('The pad'),
      text('dle', 'bold'),
      text(' and the '),
      text('paddle', 'italic'),
      text('.'),
    );
    expect(replaceInBody(body, finder({ find: 'paddle', with: 'winch' }))).toEqual(
      doc(text('The winch'), text(' and the '), text('winch', 'italic'), text('.')),
    );
    expect(replaceInBody(body, finder({ find: 'oar', with: 'x' }))).toBe(body);
    expect(replaceInBody(EMPTY_BODY, finder({ find: 'a', with: 'b' }))).toBe(EMPTY_BODY);
  });

  it('changes a text as it would change its words', () => {
    const runs = fc.array(
      fc.record({
        t: fc.string({ unit: fc.constantFrom('a', 'b', ' '), minLength: 1, maxLength: 6 }),
        bold: fc.boolean(),
      }),
      { minLength: 1, maxLength: 6 },
    );
    fc.assert(
      fc.property(
        runs,
        fc.constantFrom('a', 'ab', 'ba', 'aa'),
        fc.constantFrom('', 'X', 'long'),
        (parts, find, put) => {
          const body = doc(...parts.map((p) => (p.bold ? text(p.t, 'bold') : text(p.t))));
          const f = finder({ find, with: put, capitals: true });
          const whole = parts.map((p) => p.t).join('');
          const read = (b: BodyNode) => (b.content![0]!.content ?? []).map((n) => n.text).join('');
          expect(read(replaceInBody(body, f))).toBe(replaceIn(whole, f));
          expect(bodyText(replaceInBody(body, f)).trim()).toBe(replaceIn(whole, f).trim());
        },
      ),
    );
  });
});
