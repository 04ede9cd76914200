import { fc } from '../testing.js';
import { checkBody, type BodyNode } from '../body/schema.js';
import { bodyText } from '../body/text.js';
import { placePictures } from './pictures.js';
import { importHtml } from './to-body.js';
import { plainToBody } from './plain-text.js';
import { formatReport } from './report.js';
import { element as el, type HtmlNode } from './tree.js';

const blocks = (body: BodyNode) => (body.content ?? []).map((n) => `${n.type}${n.attrs?.['level'] ?? ''}`);
const styled = (style: string, ...children: HtmlNode[]) => el('span', children, { style });

describe('bringing text in', () => {
  it('keeps structure and drops styling, and counts both', () => {
    const { body, title, report } = importHtml(
      el('body', [
        el('h1', ['Frost on the ', el('font', ['steps'], { color: 'red' })]),
        el(
          'p',
          ['Plain, ', el('b', ['bold']), ' and ', styled('font-style:italic;color:#333', 'leaning'), '.'],
          { style: 'margin:0' },
        ),
        el('h2', [el('b', ['Why it slips'])]),
        el('ul', [el('li', ['one']), el('li', [el('p', ['two'])])]),
        el('p', [el('a', ['the chart'], { href: 'https://halfwaylock.example/chart' })]),
      ]),
    );
    expect(title).toBe('Frost on the steps');
    expect(blocks(body)).toEqual(['paragraph', 'heading2', 'bulletList', 'paragraph']);
    expect(body.content![1]!.content![0]!.marks).toBeUndefined();
    expect(report.kept).toMatchObject({ heading: 1, list: 1, link: 1, bold: 1, italic: 1 });
    expect(report.dropped.styling).toBe(2);
    expect(formatReport(report)).toMatch(
      /^Kept 1 heading, 2 paragraphs, 1 list, 1 link, 1 bold passage and 1 italic passage\. Dropped 2 pieces of styling\./,
    );
  });

  it('keeps the space between two marked words', () => {
    expect(bodyText(importHtml(el('p', [el('b', ['one']), '\n', el('i', ['two'])])).body)).toBe('one two');
  });

  it('makes real lists of a word processor’s list paragraphs', () => {
    const item = (level: number, marker: string, text: string) =>
      el(
        'p',
        [
          el('span', [marker, el('span', ['   '], { style: 'font:7pt' })], { style: 'mso-list:Ignore' }),
          text,
        ],
        { class: 'MsoListParagraph', style: `mso-list:l0 level${level} lfo1` },
      );
    const { body } = importHtml(
      el('body', [
        '\n',
        item(1, '1.', 'Close'),
        '\n',
        item(2, 'a.', 'slowly'),
        item(1, '2.', 'Lock'),
        el('p', ['After']),
        item(1, '·', 'Dot'),
      ]),
    );
    expect(blocks(body)).toEqual(['orderedList', 'paragraph', 'bulletList']);
    const [first, second] = body.content![0]!.content!;
    expect(blocks(first!)).toEqual(['paragraph', 'orderedList']);
    expect(bodyText(second!)).toBe('Lock');
  });

  it(
    'reads a bold wrapper that is not bold, and a list directly in a list, as browsers’ ' +
      'editors write them',
    () => {
      const { body } = importHtml(
        el('b', [el('p', ['Text']), el('ul', [el('li', ['a']), el('ul', [el('li', ['b'])])])], {
          style: 'font-weight:normal',
        }),
      );
      expect(body.content![0]).toEqual({ type: 'paragraph', content: [{ type: 'text', text: 'Text' }] });
      expect(blocks(body.content![1]!.content![0]!)).toEqual(['paragraph', 'bulletList']);
    },
  );

  it('lets nothing hostile through', () => {
    const { body, report } = importHtml(
      el('body', [
        el('script', ['alert(1)']),
        el('p', ['Safe ', el('a', ['bait'], { href: 'java\tscript:alert(1)', onclick: 'x()' })]),
        el('svg', [el('script', ['alert(2)'])]),
        el('iframe', [], { src: 'https://elsewhere.example' }),
        el('img', [], { src: 'x', onerror: 'alert(3)' }),
        el('a', ['data'], { href: 'data:text/html,<script>1</script>' }),
      ]),
    );
    expect(JSON.stringify(body)).not.toMatch(/script|alert|onerror|onclick|iframe/i);
    expect(report.dropped).toMatchObject({
      script: 1,
      drawing: 1,
      embed: 1,
      'unsafe link': 2,
      'picture from elsewhere': 1,
    });
  });

  it('carries pictures that came as data, and keeps others as links', () => {
    const { body, pictures } = importHtml(
      el('p', [
        'Before ',
        el('img', [], { src: 'data:image/png;base64,AAAA', alt: 'a lock' }),
        el('img', [], { src: 'https://x.example/a.png', alt: 'far' }),
      ]),
    );
    expect(pictures).toEqual([{ placeholder: -1, dataUri: 'data:image/png;base64,AAAA', alt: 'a lock' }]);
    expect(checkBody(body).ok).toBe(false);
    const placed = placePictures(body, new Map([[-1, 12]]));
    expect(checkBody(placed).ok).toBe(true);
    expect(blocks(placed)).toEqual(['paragraph', 'picture', 'paragraph']);
    expect(blocks(placePictures(body, new Map()))).toEqual(['paragraph', 'paragraph']);
  });

  it('keeps tables with their header cells, and takes a table of one cell for layout', () => {
    const { body } = importHtml(
      el('body', [
        el('table', [
          el('tbody', [
            el('tr', [el('th', ['Lock']), el('th', ['Rise'])]),
            el('tr', [el('td', ['Tolver']), el('td', ['2.1 m'], { colspan: '9999' })]),
          ]),
        ]),
        el('table', [el('tr', [el('td', [el('p', ['Just text'])])])]),
      ]),
    );
    expect(blocks(body)).toEqual(['table', 'paragraph']);
    expect(checkBody(body).ok).toBe(true);
  });

  it('moves headings down when the text has several of level 1', () => {
    const { title, body } = importHtml(
      el('body', [el('h1', ['A']), el('p', ['x']), el('h1', ['B']), el('h2', ['C']), el('h6', ['D'])]),
    );
    expect(title).toBeNull();
    expect(blocks(body)).toEqual(['heading2', 'paragraph', 'heading2', 'heading3', 'heading4']);
  });

  it('gives every tree a body that fits the schema (property)', () => {
    const tags = [
      'p',
      'div',
      'b',
      'i',
      'a',
      'h1',
      'h3',
      'ul',
      'ol',
      'li',
      'blockquote',
      'pre',
      'code',
      'table',
      'tr',
      'td',
      'th',
      'br',
      'hr',
      'span',
      'script',
      'img',
      'font',
      'section',
    ];
    const { tree } = fc.letrec<{ tree: HtmlNode }>((tie) => ({
      tree: fc.oneof(
        { maxDepth: 6, withCrossShrink: true },
        fc.string({ maxLength: 12 }),
        fc.record({
          tag: fc.constantFrom(...tags),
          children: fc.array(tie('tree'), { maxLength: 4 }),
          attrs: fc.constantFrom(
            {},
            { href: 'https://a.example' },
            { style: 'font-weight:700' },
            { start: '-3' },
            { src: '/media/4' },
            { style: 'mso-list:l0 level2 lfo1' },
          ) as fc.Arbitrary<Record<string, string>>,
        }),
      ),
    }));
    fc.assert(
      fc.property(tree, (root) => {
        const answer = checkBody(placePictures(importHtml(root).body, new Map()));
        expect(answer).toMatchObject({ ok: true });
      }),
      { numRuns: 400 },
    );
  });

  it('survives nesting no person would write', () => {
    let deep: HtmlNode = 'bottom';
    for (let i = 0; i < 3000; i++) deep = el(i % 2 ? 'blockquote' : 'div', [deep]);
    const { body } = importHtml(deep);
    expect(checkBody(body).ok).toBe(true);
    expect(bodyText(body)).toContain('bottom');
  });

  it('reads plain text by its blank lines', () => {
    expect(plainToBody('One\nline two\r\n\r\nThree\n\n\n')).toEqual({
      type: 'doc',
      content: [
        {
          type: 'paragraph',
          content: [{ type: 'text', text: 'One' }, { type: 'hardBreak' }, { type: 'text', text: 'line two' }],
        },
        { type: 'paragraph', content: [{ type: 'text', text: 'Three' }] },
      ],
    });
    expect(checkBody(plainToBody('')).ok).toBe(true);
  });
});
