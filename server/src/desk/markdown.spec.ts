import spec from 'commonmark-spec';
import { checkBody, fileIds, pictureIds, type BodyNode } from '@keyroster/core';
import { readMarkdown } from '../documents/markdown.js';
import { bodyMarkdown, yamlText } from './markdown.js';
import { parse } from 'yaml';

const { tests } = spec as unknown as { tests: { number: number; markdown: string }[] };
const again = (body: BodyNode) => readMarkdown(bodyMarkdown(body)).body;

/**
 * White space at the ends of a marked passage carries no mark that anybody could see, and addresses may be
 * percent-encoded.
 */
function normal(body: BodyNode): BodyNode {
  const parts = (node: BodyNode): BodyNode[] => {
    const found = /^(\s*)(.*?)(\s*)$/s.exec(node.text ?? '')!;
    return [
      { type: 'text', text: found[1]! },
      { ...node, text: found[2]! },
      { type: 'text', text: found[3]! },
    ].filter((n) => n.text !== '');
  };
  const visit = (node: BodyNode): BodyNode => {
    const content: BodyNode[] = [];
    for (const child of (node.content ?? []).flatMap((c) =>
      c.type === 'text' && c.marks && !c.marks.some((m) => m.type === 'code') ? parts(c) : [visit(c)],
    )) {
      const last = content.at(-1);
      if (
        last?.type === 'text' &&
        child.type === 'text' &&
        JSON.stringify(last.marks) === JSON.stringify(child.marks)
      )
        content[content.length - 1] = { ...last, text: `${last.text}${child.text}` };
      else content.push(child);
    }
    return { ...node, ...(node.content ? { content } : {}) };
  };
  return JSON.parse(JSON.stringify(visit(body)).replaceAll('"href":"`"', '"href":"%60"')) as BodyNode;
}

describe('a post as Markdown', () => {
  // CommonMark 0.31.2 (package commonmark-spec), every example: what was brought in, put out and brought in
  // again is the same text.
  it.each(tests.map((t) => [t.number, t.markdown.replace(/→/g, '\t')] as const))(
    'example %i of CommonMark comes back',
    (_, markdown) => {
      const { body } = readMarkdown(markdown);
      expect(normal(again(body))).toEqual(normal(body));
    },
  );

  const t = (text: string, ...marks: NonNullable<BodyNode['marks']>): BodyNode => ({
    type: 'text',
    text,
    ...(marks.length ? { marks } : {}),
  });
  const p = (...content: BodyNode[]): BodyNode => ({ type: 'paragraph', content });
  const picture = (attrs: object = {}): BodyNode => ({
    type: 'picture',
    attrs: {
      media: 4,
      alt: 'a [gate] & a "lock"',
      caption: '',
      credit: '',
      size: 'column',
      side: 'none',
      ...attrs,
    },
  });
  const cell = (type: string, text: string, attrs: object = {}): BodyNode => ({
    type,
    attrs: { colspan: 1, rowspan: 1, colwidth: null, ...attrs },
    content: [p(t(text))],
  });
  it.each<[string, BodyNode]>([
    ['a picture', picture()],
    [
      'a picture with everything',
      picture({ caption: 'Below the lock', credit: 'Odette Rigg', size: 'small', side: 'left' }),
    ],
    ['a gallery', { type: 'gallery', content: [picture(), picture({ media: 5, caption: 'Another' })] }],
    [
      'an uploaded video',
      {
        type: 'video',
        attrs: {
          file: 3,
          poster: 4,
          captions: 5,
          href: '',
          title: 'Locking down',
          description: 'In the rain.',
        },
      },
    ],
    [
      'a video elsewhere',
      {
        type: 'video',
        attrs: {
          file: 0,
          poster: 0,
          captions: 0,
          href: 'https://films.example/1?a=b&c',
          title: 'A lock',
          description: '',
        },
      },
    ],
    ['a button', { type: 'button', attrs: { label: 'See <the> chart', href: '/chart' } }],
    ['a sign-up', { type: 'signUp', attrs: { invitation: 'A letter on Fridays.' } }],
    ['contents', { type: 'contents' }],
    ['a pull quote', { type: 'pullQuote', content: [t('Six '), t('turns', { type: 'bold' })] }],
    [
      'a note box with code that has empty lines',
      {
        type: 'noteBox',
        content: [p(t('Mind.')), { type: 'codeBlock', attrs: { language: null }, content: [t('a\n\nb')] }],
      },
    ],
    [
      'a check list',
      {
        type: 'checkList',
        content: [
          { type: 'checkItem', attrs: { checked: true }, content: [p(t('kettle'))] },
          {
            type: 'checkItem',
            attrs: { checked: false },
            content: [
              p(t('windlass')),
              { type: 'bulletList', content: [{ type: 'listItem', content: [p(t('two'))] }] },
            ],
          },
        ],
      },
    ],
    [
      'a table',
      {
        type: 'table',
        content: [
          { type: 'tableRow', content: [cell('tableHeader', 'Lock'), cell('tableHeader', 'Rise | fall')] },
          { type: 'tableRow', content: [cell('tableCell', '22'), cell('tableCell', '2.1 m')] },
        ],
      },
    ],
    [
      'a table with a wide cell',
      {
        type: 'table',
        content: [
          { type: 'tableRow', content: [cell('tableHeader', 'Lock', { colspan: 2 })] },
          { type: 'tableRow', content: [cell('tableCell', '22'), cell('tableCell', '2.1 m')] },
        ],
      },
    ],
    [
      'a heading with a break',
      { type: 'heading', attrs: { level: 3 }, content: [t('one'), { type: 'hardBreak' }, t('two')] },
    ],
    [
      'text that looks like markup',
      p(t('# not a heading, 1. no list, <b>, &amp;, *stars* and [brackets](x) | a')),
    ],
  ])('%s comes back', (_, block) => {
    const body: BodyNode = {
      type: 'doc',
      content: [p(t('Before.')), { type: 'foldLine' }, block, p(t('After.'))],
    };
    expect(checkBody(body)).toMatchObject({ ok: true });
    expect(again(body)).toEqual(body);
    expect([pictureIds(again(body)), fileIds(again(body))]).toEqual([pictureIds(body), fileIds(body)]);
  });

  it('writes front matter that a YAML reader reads as it was', () => {
    for (const value of [
      'Frost on the steps',
      'yes',
      '12:30',
      'a: b',
      '"quoted"',
      'line\nbreak',
      '- dash',
      '# hash',
      '',
      '2026-11-27',
      'it’s “fine”',
    ])
      expect(parse(`v: ${yamlText(value)}`)).toEqual({ v: value });
  });
});
