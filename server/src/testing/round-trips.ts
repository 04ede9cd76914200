import type { BodyNode } from '@keyroster/core';

/**
 * White space at the ends of a marked passage carries no mark that anybody could see, and addresses may be
 * percent-encoded.
 */
export function normal(body: BodyNode): BodyNode {
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

export const t = (text: string, ...marks: NonNullable<BodyNode['marks']>): BodyNode => ({
  type: 'text',
  text,
  ...(marks.length ? { marks } : {}),
});
export const p = (...content: BodyNode[]): BodyNode => ({ type: 'paragraph', content });
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

/** Every block that has something to lose on its way out and in again. */
export const BLOCKS: [string, BodyNode][] = [
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
];
