import { EMPTY_BODY, checkBody, safeHref, type BodyNode } from './schema.js';
import {
  aboveFold,
  bodyText,
  countWords,
  linksOf,
  outline,
  picturesWithoutAlt,
  readingMinutes,
} from './text.js';
import { bodyHtml } from './html.js';

const p = (...content: BodyNode[]): BodyNode => ({ type: 'paragraph', content });
const t = (text: string, ...marks: { type: string; attrs?: Record<string, unknown> }[]): BodyNode => ({
  type: 'text',
  text,
  ...(marks.length ? { marks } : {}),
});
const doc = (...content: BodyNode[]): BodyNode => ({ type: 'doc', content });
const picture = (media: number, alt = ''): BodyNode => ({
  type: 'picture',
  attrs: { media, alt, caption: '' },
});
const none = () => undefined;

describe('the schema of bodies', () => {
  it('takes what a post may hold and gives it back normalised', () => {
    expect(checkBody(EMPTY_BODY)).toMatchObject({ ok: true });
    const answer = checkBody(doc(p(t('cafe\u0301'))));
    expect(answer.ok && bodyText(answer.body)).toBe('caf\u00e9');
  });
  it.each<[string, unknown]>([
    ['no document', null],
    ['a number', 7],
    ['an unknown node', doc({ type: 'script', content: [t('alert(1)')] })],
    ['an unknown mark', doc(p(t('x', { type: 'blink' })))],
    ['a heading of level 1', doc({ type: 'heading', attrs: { level: 1 }, content: [t('x')] })],
    ['an unsafe link', doc(p(t('x', { type: 'link', attrs: { href: 'javascript:alert(1)' } })))],
    ['text outside a block', doc(t('x'))],
    ['an empty document', { type: 'doc', content: [] }],
    ['a part only', p(t('x'))],
    ['a picture without an id', doc({ type: 'picture', attrs: { alt: '' } })],
    ['empty text', doc(p(t('')))],
  ])('refuses %s with a sentence', (_, value) => {
    const answer = checkBody(value);
    expect(answer.ok).toBe(false);
    expect(answer.ok ? '' : answer.sentence).toMatch(/\.$/);
  });
  it('refuses what is nested too deeply or too long before it reads it', () => {
    let deep: BodyNode = p(t('x'));
    for (let i = 0; i < 5000; i++) deep = { type: 'blockquote', content: [deep] };
    expect(checkBody(doc(deep))).toMatchObject({ ok: false, sentence: 'The text is nested too deeply.' });
    expect(checkBody(doc(p(t('x'.repeat(1_000_001)))))).toMatchObject({ ok: false });
  });
  it.each([
    ['https://halfwaylock.example/a b', 'https://halfwaylock.example/a%20b'],
    ['mailto:desk@halfwaylock.example', 'mailto:desk@halfwaylock.example'],
    ['/winter', '/winter'],
    ['#top', '#top'],
    ['javascript:alert(1)', null],
    ['JaVa\nScRiPt:alert(1)', null],
    ['\u0001javascript:x', null],
    ['data:text/html,x', null],
    ['vbscript:x', null],
    ['//evil.example', null],
    ['/\\evil.example', null],
    ['', null],
  ])('link %j becomes %j', (raw, expected) => {
    expect(safeHref(raw)).toBe(expected);
  });
});

describe('text of a body', () => {
  const body = doc(
    p(t('Open the '), t('paddle', { type: 'bold' }), { type: 'hardBreak' }, t('slowly.')),
    { type: 'bulletList', content: [{ type: 'listItem', content: [p(t('one'))] }] },
    { type: 'heading', attrs: { level: 3 }, content: [t('Then')] },
    picture(4),
    picture(5, 'a gate'),
  );
  it('puts blocks on lines of their own', () => {
    expect(bodyText(body)).toBe('Open the paddle\nslowly.\none\nThen');
    expect(outline(body)).toEqual([{ text: 'Then', level: 3, index: 0 }]);
    expect(picturesWithoutAlt(body)).toBe(1);
  });
  // Word boundaries of Unicode Standard Annex #29; hyphen and apostrophe joined as writers count (common
  // practice, no published source).
  it.each([
    ['', 0],
    ['one', 1],
    ['raw-water pump', 2],
    ["it's the boat’s", 3],
    ['5 MB at 3.5 km', 5],
    ['— – …', 0],
    ['船が来た', 3],
  ])('%j has %i words', (text, n) => {
    if (n === 3 && /\p{Script=Han}/u.test(text)) expect(countWords(text)).toBeGreaterThan(1);
    else expect(countWords(text)).toBe(n);
  });
  it('rounds reading time to minutes, at least one', () => {
    expect([0, 10, 238, 1146].map(readingMinutes)).toEqual([0, 1, 1, 5]);
  });
  it('cuts at the fold line, or after two blocks', () => {
    expect(aboveFold(doc(p(t('a')), { type: 'foldLine' }, p(t('b'))))).toEqual({
      body: doc(p(t('a'))),
      folded: true,
    });
    expect(aboveFold(doc(p(t('a')), p(t('b')), p(t('c')))).body.content).toHaveLength(2);
    expect(aboveFold(doc(p(t('a')))).folded).toBe(false);
  });
});

describe('HTML of a body', () => {
  it('escapes all text and attributes', () => {
    const html = bodyHtml(
      doc(
        p(
          t('<img src=x onerror=alert(1)> & "q"', {
            type: 'link',
            attrs: { href: 'https://a.example/?a="b"&c' },
          }),
        ),
        { type: 'codeBlock', attrs: { language: '"><b>' }, content: [t('</code>')] },
      ),
      none,
    );
    expect(html).toBe(
      '<p><a href="https://a.example/?a=&quot;b&quot;&amp;c">&lt;img src=x ' +
        'onerror=alert(1)&gt; &amp; &quot;q&quot;</a></p><pre><code ' +
        'class="language-&quot;&gt;&lt;b&gt;">&lt;/code&gt;</code></pre>',
    );
  });
  it('opens a mark once over its neighbours', () => {
    const b = { type: 'bold' };
    expect(bodyHtml(doc(p(t('a', b), t('b', b, { type: 'italic' }), t('c'))), none)).toBe(
      '<p><strong>a<em>b</em></strong>c</p>',
    );
    const i = { type: 'italic' };
    expect(bodyHtml(doc(p(t('a', i), t('b', b, i), t('c', i))), none)).toBe(
      '<p><em>a<strong>b</strong>c</em></p>',
    );
  });
  it('gives headings ids and pictures their size, and leaves out unknown pictures', () => {
    const heading = (text: string): BodyNode => ({
      type: 'heading',
      attrs: { level: 2 },
      content: [t(text)],
    });
    const html = bodyHtml(
      doc(heading('Then'), heading('Then'), picture(4, 'a "gate"'), picture(9)),
      (id) => (id === 4 ? { src: '/media/4', width: 40, height: 30 } : undefined),
      { headingIds: true },
    );
    expect(html).toBe(
      '<h2 id="then">Then</h2><h2 id="then-2">Then</h2><figure><img src="/media/4" alt="a ' +
        '&quot;gate&quot;" width="40" height="30" loading="lazy"></figure>',
    );
  });
});

describe('blocks beside plain text', () => {
  const blocks: BodyNode[] = [
    { type: 'pullQuote', content: [t('Six turns')] },
    { type: 'noteBox', content: [p(t('Mind the gap.'))] },
    {
      type: 'checkList',
      content: [
        { type: 'checkItem', attrs: { checked: true }, content: [p(t('kettle'))] },
        { type: 'checkItem', attrs: { checked: false }, content: [p(t('windlass'))] },
      ],
    },
    { type: 'gallery', content: [picture(4, 'gate')] },
    {
      type: 'video',
      attrs: {
        file: 0,
        poster: 0,
        captions: 0,
        href: 'https://films.example/1',
        title: 'A lock',
        description: 'From below.',
      },
    },
    { type: 'button', attrs: { label: 'See the chart', href: '/chart' } },
    { type: 'signUp', attrs: { invitation: 'A letter on Fridays.' } },
    { type: 'contents' },
    { type: 'heading', attrs: { level: 2 }, content: [t('Then')] },
  ];
  const body = doc(...blocks);
  const html = () =>
    bodyHtml(
      body,
      (id) =>
        id === 4
          ? {
              src: '/media/4',
              width: 40,
              height: 30,
              sources: [{ type: 'image/webp', srcset: '/media/4/480.webp 480w' }],
            }
          : undefined,
      { headingIds: true, signUpAction: '/letter' },
    );

  it('fit the schema, and their words are read', () => {
    expect(checkBody(body).ok).toBe(true);
    expect(bodyText(body)).toBe(
      'Six turns\nMind the gap.\nkettle\nwindlass\nA lock\nFrom below.\nSee the chart\nA letter on Fridays.\nThen',
    );
    expect(picturesWithoutAlt(doc({ type: 'gallery', content: [picture(4)] }))).toBe(1);
  });
  it('are drawn, and the table of contents is made from the headings', () => {
    expect(html()).toContain(
      '<nav class="contents" aria-label="In this post"><ul><li class="level-2"><a ' +
        'href="#then">Then</a></li></ul></nav>',
    );
    expect(html()).toContain('<source type="image/webp" srcset="/media/4/480.webp 480w"');
    expect(html()).toContain('<a class="link-card" href="https://films.example/1">');
    expect(html()).toContain('<form class="sign-up" method="post" action="/letter">');
  });
  it.each<[string, BodyNode]>([
    [
      'a button that leads to a script',
      { type: 'button', attrs: { label: 'x', href: 'javascript:alert(1)' } },
    ],
    ['a video at a data address', { type: 'video', attrs: { href: 'data:text/html,x' } }],
    ['a picture of a size of its own', { type: 'picture', attrs: { media: 1, size: 'huge' } }],
    [
      'a tick that is neither',
      {
        type: 'checkList',
        content: [{ type: 'checkItem', attrs: { checked: 'yes' }, content: [p(t('x'))] }],
      },
    ],
    ['a gallery of words', { type: 'gallery', content: [p(t('x'))] }],
    ['a note box without anything', { type: 'noteBox' }],
  ])('refuses %s', (_, block) => {
    expect(checkBody(doc(block)).ok).toBe(false);
  });
  it('have one fold line', () => {
    expect(checkBody(doc(p(t('a')), { type: 'foldLine' }, p(t('b')), { type: 'foldLine' }))).toMatchObject({
      ok: false,
      sentence: expect.stringMatching(/one fold line/),
    });
  });
  it('lists where links and buttons lead, a link over several runs once', () => {
    const link = { type: 'link', attrs: { href: '/a' } };
    expect(
      linksOf(
        doc(p(t('one', link), t(' two', { type: 'bold' }, link)), {
          type: 'button',
          attrs: { label: 'Go', href: '/b' },
        }),
      ),
    ).toEqual([
      { href: '/a', text: 'one two' },
      { href: '/b', text: 'Go' },
    ]);
  });
});
