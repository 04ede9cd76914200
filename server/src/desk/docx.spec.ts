import type { BodyNode } from '@keyroster/core';
import type { Db } from '../db/connect.js';
import { readDocument } from '../documents/read-document.js';
import type { WholePostRow } from '../posts/store.js';
import { makeDocx } from './docx.js';

type Marks = NonNullable<BodyNode['marks']>;
const t = (text: string, ...marks: Marks): BodyNode => ({
  type: 'text',
  text,
  ...(marks.length > 0 ? { marks } : {}),
});
const p = (...content: BodyNode[]): BodyNode => ({
  type: 'paragraph',
  ...(content.length > 0 ? { content } : {}),
});
const cell = (type: string, text: string): BodyNode => ({
  type,
  attrs: { colspan: 1, rowspan: 1, colwidth: null },
  content: [p(t(text))],
});
const bold: Marks[number] = { type: 'bold' };
const code: Marks[number] = { type: 'code' };
const link: Marks[number] = { type: 'link', attrs: { href: 'https://lock.example/a' } };
const list = (type: string, ...texts: string[]): BodyNode => ({
  type,
  ...(type === 'orderedList' ? { attrs: { start: 1 } } : {}),
  content: texts.map((text) => ({ type: 'listItem', content: [p(t(text))] })),
});

describe('a post as a Word document', () => {
  /** Out, and in again. Nothing is asked of the database for a text without pictures. */
  const again = async (...content: BodyNode[]) => {
    const bytes = await makeDocx(
      undefined as unknown as Db,
      {
        title: 'A title',
        subtitle: '',
        excerpt: '',
        byline_name: 'Dot',
        lead_media_id: null,
        body: { type: 'doc', content },
      } as unknown as WholePostRow,
      null,
    );
    return readDocument(bytes, 'a.docx');
  };

  it.each<[string, BodyNode[]]>([
    [
      'paragraphs with marks',
      [p(t('One '), t('bold', bold), t(' and '), t('italic', { type: 'italic' }), t('.'))],
    ],
    ['spaces at the edge of bold', [p(t('One'), t(' bold ', bold), t('and on.'))]],
    ['code within a line', [p(t('Run '), t('npm start', code), t(' now.'))]],
    ['a link', [p(t('See '), t('the lock', link), t('.'))]],
    ['code that is bold', [p(t('Run '), t('it', bold, code), t('.'))]],
    [
      'headings',
      [
        { type: 'heading', attrs: { level: 2 }, content: [t('A')] },
        p(t('x')),
        { type: 'heading', attrs: { level: 3 }, content: [t('B')] },
        p(t('y')),
      ],
    ],
    [
      'a code block',
      [{ type: 'codeBlock', attrs: { language: null }, content: [t('a = 1\n\n  b = 2')] }, p(t('After.'))],
    ],
    ['a divider', [p(t('Before.')), { type: 'horizontalRule' }, p(t('After.'))]],
    ['a list', [list('bulletList', 'one', 'two')]],
    ['a numbered list', [list('orderedList', 'one', 'two')]],
    ['a quotation', [{ type: 'blockquote', content: [p(t('Slowly.'))] }, p(t('After.'))]],
    [
      'a table with a head',
      [
        {
          type: 'table',
          content: [
            { type: 'tableRow', content: [cell('tableHeader', 'Lock'), cell('tableHeader', 'Rise')] },
            { type: 'tableRow', content: [cell('tableCell', 'Top'), cell('tableCell', '2 m')] },
          ],
        },
      ],
    ],
    [
      'a table without one',
      [
        {
          type: 'table',
          content: [
            { type: 'tableRow', content: [cell('tableCell', 'a'), cell('tableCell', 'b')] },
            { type: 'tableRow', content: [cell('tableCell', 'c'), cell('tableCell', 'd')] },
          ],
        },
      ],
    ],
  ])('%s come back the same', async (_, content) => {
    const { title, body } = await again(...content);
    expect(title).toBe('A title');
    expect(body.content).toEqual(content);
  });
});
