import { getSchema } from '@tiptap/core';
import { Node } from '@tiptap/pm/model';
import { bodyExtensions } from './editor-extensions';
import { passageOf, rangeOf, textIndex } from './passages';

const schema = getSchema(bodyExtensions());
const p = (...texts: string[]) => ({
  type: 'paragraph',
  content: texts.flatMap((text, i) => [...(i > 0 ? [{ type: 'hardBreak' }] : []), { type: 'text', text }]),
});
const docOf = (...content: object[]) => Node.fromJSON(schema, { type: 'doc', content });

describe('passages in the editor', () => {
  const doc = docOf(
    p('Open the paddle.'),
    { type: 'bulletList', content: [{ type: 'listItem', content: [p('Wait', 'a while')] }] },
    p('Open the paddle again.'),
  );

  it('index every character by its place in the document', () => {
    const { text, positions } = textIndex(doc);
    expect(text).toBe('Open the paddle.\nWait\na while\nOpen the paddle again.');
    expect(positions).toHaveLength(text.length);
    for (let i = 0; i < text.length; i++)
      if (text[i] !== '\n') expect(doc.textBetween(positions[i]!, positions[i]! + 1)).toBe(text[i]);
  });

  it('are taken from a selection and found again, the right one of two alike', () => {
    const { text, positions } = textIndex(doc);
    const from = positions[text.lastIndexOf('the paddle')]!;
    const passage = passageOf(doc, from, from + 10)!;
    expect(passage.exact).toBe('the paddle');
    expect(rangeOf(doc, passage)).toEqual({ from, to: from + 10 });
    const longer = docOf(p('A new opening.'), ...(doc.toJSON() as { content: object[] }).content);
    expect(longer.textBetween(rangeOf(longer, passage)!.from, rangeOf(longer, passage)!.to + 7)).toBe(
      'the paddle again.'.slice(0, 17),
    );
  });

  it('reach over blocks, and are nothing for a selection without words', () => {
    const across = passageOf(doc, 10, 24)!;
    expect(across.exact).toContain('\n');
    expect(rangeOf(doc, across)?.from).toBe(10);
    expect(passageOf(doc, 5, 5)).toBeNull();
    expect(rangeOf(doc, { exact: 'gone', prefix: '', suffix: '' })).toBeNull();
  });
});
