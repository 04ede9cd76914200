import { zipSync } from 'fflate';
import {
  asItWas,
  asItWouldBe,
  bodyHtml,
  type BodyNode,
  bodyText,
  formatReport,
  headingIds,
  inlineText,
  nodesOf,
  suggestionsIn,
} from '@keyroster/core';
import { readDocument } from './read-document.js';

const read = (text: string, name = 'a.md') => readDocument(Buffer.from(text), name);
const hrefs = (body: BodyNode) =>
  [...nodesOf(body)].flatMap((n) =>
    (n.marks ?? []).filter((m) => m.type === 'link').map((m) => m.attrs!['href']),
  );

describe('Markdown and HTML that come in', () => {
  it('keep a link whose words are code, and code that is bold', async () => {
    const { body, report } = await read(
      'See [`paddle()`](https://lock.example/p) and **`gate`** and *`beam`*.',
    );
    expect(bodyHtml(body, () => undefined)).toBe(
      '<p>See <a href="https://lock.example/p"><code>paddle()</code></a> and <strong><code>gate</code></strong> ' +
        'and <em><code>beam</code></em>.</p>',
    );
    expect(report.kept).toMatchObject({ link: 1, code: 3, bold: 1, italic: 1 });
    expect(formatReport(report)).toContain('Dropped nothing.');
  });

  it('lead links within the text to the headings that are here, whatever they were called there', async () => {
    const { body, report } = await read(
      [
        '[by name](#oiling-the-pawl) [twice](#the-end-1) [coded](#caf%C3%A9-stop) [nowhere](#gone)',
        '## Oiling the pawl',
        '## The end',
        '## The end',
        '## Café stop',
        '<a name="old"></a>',
        '## Anchored',
        '[back](#old)',
      ].join('\n\n'),
    );
    const ids = [...headingIds(body)].map(([node, id]) => [inlineText(node), id]);
    const id = (heading: string, n = 0) => ids.filter(([text]) => text === heading)[n]![1];
    expect(hrefs(body)).toEqual([
      `#${id('Oiling the pawl')}`,
      `#${id('The end', 1)}`,
      `#${id('Café stop')}`,
      `#${id('Anchored')}`,
    ]);
    expect(report.remarks).toEqual([
      '1 link within the text led to no heading and became plain words: #gone.',
    ]);
    const html = await read('<h2 id="x1">First turn</h2><p><a href="#x1">up</a></p>', 'a.html');
    expect(hrefs(html.body)).toEqual([`#${[...headingIds(html.body).values()][0]}`]);
  });

  it('name what stood beside the file', async () => {
    const { report } = await read('[notes](notes/lock.md) and ![A gate](pictures/gate.jpg)');
    expect(report.remarks.join(' ')).toMatch(/notes\/lock\.md.*pictures\/gate\.jpg/);
  });

  it('level headings that skip a level, and say so', async () => {
    const { body, report } = await read('## A\n\n#### B\n\n#### C\n\n### D\n\n## E');
    const levels = [...nodesOf(body)].filter((n) => n.type === 'heading').map((n) => n.attrs!['level']);
    expect(levels).toEqual([2, 3, 3, 3, 2]);
    expect(report.remarks).toEqual(['2 headings moved up, since levels were skipped above them.']);
  });

  it('keep what is raised and lowered where there are letters for it', async () => {
    const { body, report } = await read(
      '<p>x<sup>2</sup>, CO<sub>2</sub>, 10<sup>−3</sup>, the 1<sup>st</sup></p>',
      'a.html',
    );
    expect(bodyText(body)).toBe('x², CO₂, 10⁻³, the 1st');
    expect(report.dropped).toEqual({ 'raised or lowered': 1 });
  });
});

describe('letters', () => {
  const latin1 = (text: string) => Buffer.from(text, 'latin1');
  const utf16 = (text: string, mark: boolean) => Buffer.from(`${mark ? '\ufeff' : ''}${text}`, 'utf16le');
  it.each([
    [
      'a declared charset',
      latin1('<meta charset="windows-1252"><p>Café \x93lock\x94</p>'),
      'a.html',
      'Café “lock”',
    ],
    [
      'a declared charset the long way',
      Buffer.from([
        ...latin1('<meta http-equiv=content-type content="text/html; charset=koi8-r"><p>'),
        0xeb,
        0xc1,
      ]),
      'a.html',
      'Ка',
    ],
    ['UTF-16 with a mark', utf16('Schleuse – müde', true), 'a.txt', 'Schleuse – müde'],
    [
      'UTF-16 without one',
      utf16('Only plain words here, many of them.', false),
      'a.txt',
      'Only plain words here, many of them.',
    ],
    ['UTF-8 with a mark', Buffer.from('\ufeffnaïve'), 'a.txt', 'naïve'],
  ])('by %s are read without a guess', async (_, bytes, name, text) => {
    const { body, report } = await readDocument(bytes, name);
    expect(bodyText(body)).toBe(text);
    expect(report.remarks).toEqual([]);
  });

  it('of a file that says nothing are guessed, and that is said', async () => {
    const { body, report } = await readDocument(
      latin1(
        'Das Wetter war schön, und wir fuhren über die Brücke zum großen Café hinüber. Später hörten wir Möwen.',
      ),
      'a.txt',
    );
    expect(bodyText(body)).toContain('schön, und wir fuhren über die Brücke');
    expect(report.remarks.join()).toMatch(/does not say how its letters are written; they were read as /);
  });
});

describe('Word documents that come in', () => {
  const w = (body: string, more: Record<string, string> = {}) => {
    const bytes = (text: string) => new TextEncoder().encode(text);
    const ns = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"';
    return zipSync({
      '[Content_Types].xml': bytes(
        '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/word/document.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"/><Override PartName="/word/styles.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.styles+xml"/><Override PartName="/word/footnotes.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.footnotes+xml"/></Types>',
      ),
      '_rels/.rels': bytes(
        '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/></Relationships>',
      ),
      'word/_rels/document.xml.rels': bytes(
        '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="s1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/styles" Target="styles.xml"/><Relationship Id="f1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/footnotes" Target="footnotes.xml"/></Relationships>',
      ),
      'word/styles.xml': bytes(
        `<w:styles ${ns}><w:style w:type="paragraph" w:styleId="Title"><w:name w:val="Title"/></w:style><w:style w:type="paragraph" w:styleId="H1"><w:name w:val="heading 1"/></w:style></w:styles>`,
      ),
      'word/footnotes.xml': bytes(
        `<w:footnotes ${ns}><w:footnote w:id="1"><w:p><w:r><w:t>See the tide table.</w:t></w:r></w:p></w:footnote></w:footnotes>`,
      ),
      'word/document.xml': bytes(`<w:document ${ns}><w:body>${body}</w:body></w:document>`),
      ...Object.fromEntries(Object.entries(more).map(([name, text]) => [name, bytes(text)])),
    });
  };
  const run = (text: string, properties = '') =>
    `<w:r>${properties ? `<w:rPr>${properties}</w:rPr>` : ''}<w:t xml:space="preserve">${text}</w:t></w:r>`;
  const p = (inner: string, style = '') =>
    `<w:p>${style ? `<w:pPr><w:pStyle w:val="${style}"/></w:pPr>` : ''}${inner}</w:p>`;

  it('give their title by its style, keep hidden text out, and tell what was dropped', async () => {
    const document = w(
      p(run('Low water'), 'Title') +
        p(run('Before'), 'H1') +
        p(
          run('Shown ') +
            run('secret', '<w:vanish/>') +
            run('and not hidden', '<w:vanish w:val="0"/>') +
            run(', underlined', '<w:u w:val="single"/>') +
            run(', red', '<w:color w:val="FF0000"/>'),
        ) +
        p(
          `<w:ins w:id="1" w:author="Dot">${run('put in')}</w:ins><w:del w:id="2" w:author="Dot"><w:r><w:delText>taken out</w:delText></w:r></w:del>`,
        ) +
        p('<w:r><w:br w:type="page"/></w:r>') +
        p(run('After'), 'H1') +
        p(
          `${run('H')}${run('2', '<w:vertAlign w:val="subscript"/>')}${run('O, x')}${run('2', '<w:vertAlign w:val="superscript"/>')}`,
        ),
      { 'word/header1.xml': '<w:hdr><w:p><w:r><w:t>Page 1</w:t></w:r></w:p></w:hdr>' },
    );
    const { title, body, report, authors } = await readDocument(document, 'a.docx');
    expect(title).toBe('Low water');
    expect(bodyText(asItWouldBe(body)).split('\n').filter(Boolean)).toEqual([
      'Before',
      'Shown and not hidden, underlined, red',
      'put in',
      'After',
      'H₂O, x²',
    ]);
    expect(report.dropped).toMatchObject({
      'hidden text': 1,
      'other mark': 1,
      styling: 1,
      'page break': 1,
      'header or footer': 1,
    });
    expect(bodyText(asItWas(body))).toContain('taken out');
    expect([suggestionsIn(body).map((s) => s.kind), authors]).toEqual([['replace'], ['Dot']]);
  });

  it('lead from a number in the text to the notes', async () => {
    const { body, report } = await readDocument(
      w(p(run('High tide') + '<w:r><w:footnoteReference w:id="1"/></w:r>') + p(run('Then low.'))),
      'a.docx',
    );
    const heading = [...headingIds(body)].find(([node]) => inlineText(node) === 'Notes')!;
    expect(hrefs(body)).toEqual([`#${heading[1]}`]);
    expect(bodyText(body)).toMatch(/Notes\s+See the tide table\.\s*$/);
    expect(bodyText(body)).not.toContain('↑');
    expect(report.remarks).toEqual([]);
  });
});
