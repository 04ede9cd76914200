import { getSchema } from '@tiptap/core';
import { Fragment, Slice, type Node } from '@tiptap/pm/model';
import { EditorState, TextSelection, type Transaction } from '@tiptap/pm/state';
import { ySyncPluginKey } from '@tiptap/y-tiptap';
import fc from 'fast-check';
import { bodyExtensions } from '../editor-extensions';
import { smallest } from './steady';

const schema = getSchema(bodyExtensions());
const paragraphs = (lines: readonly string[]) =>
  lines.map((line) => schema.node('paragraph', null, line ? [schema.text(line)] : []));
const stateOf = (lines: readonly string[], select: (doc: Node) => [number, number]) => {
  const state = EditorState.create({ schema, doc: schema.node('doc', null, paragraphs(lines)) });
  const [from, to] = select(state.doc);
  return state.apply(state.tr.setSelection(TextSelection.create(state.doc, from, to)));
};
/** The place of the first `word` of a text. */
const placeOf = (doc: Node, word: string): number => {
  let at = -1;
  doc.descendants((node, pos) => {
    if (at < 0 && node.isText && node.text!.includes(word)) at = pos + node.text!.indexOf(word);
  });
  return at;
};
/** A text as the sync plugin puts it in place of the one that is there, with the caret at its end. */
const arrives = (state: EditorState, lines: readonly string[], meta = {}): Transaction => {
  const { tr } = state;
  tr.replace(0, tr.doc.content.size, new Slice(Fragment.from(paragraphs(lines)), 0, 0));
  return tr
    .setSelection(TextSelection.atEnd(tr.doc))
    .setMeta(ySyncPluginKey, { isChangeOrigin: true, ...meta })
    .setMeta('addToHistory', false);
};
const linesOf = (doc: Node) => doc.content.content.map((node) => node.textContent);

describe('what others write, and one’s own caret', () => {
  it('stays between its letters whatever changes before it or behind it', () => {
    const lines = fc.array(fc.stringMatching(/^[ab ]{0,6}$/), { maxLength: 5 });
    fc.assert(
      fc.property(lines, lines, lines, fc.boolean(), fc.nat(4), (kept, old, now, isBefore, offset) => {
        const mine = 'Mine';
        const whole = (others: readonly string[]) =>
          isBefore ? [...others, mine, ...kept] : [...kept, mine, ...others];
        const state = stateOf(whole(old), (doc) => {
          const at = placeOf(doc, mine) + offset;
          return [at, at];
        });
        const after = state.apply(smallest(arrives(state, whole(now)), state));
        expect(linesOf(after.doc)).toEqual(whole(now));
        const { $head, empty } = after.selection;
        expect({ line: $head.parent.textContent, offset: $head.parentOffset, empty }).toEqual({
          line: mine,
          offset,
          empty: true,
        });
      }),
    );
  });

  it('keeps a selection, and stands behind what is put where it stands', () => {
    const state = stateOf(['From the writer.', 'And more.'], (doc) => {
      const at = placeOf(doc, 'more');
      return [at, at + 4];
    });
    const after = state.apply(smallest(arrives(state, ['Chief says: From the writer.', 'And more.']), state));
    expect(after.doc.textBetween(after.selection.from, after.selection.to)).toBe('more');

    const caret = stateOf(['aa'], () => [2, 2]);
    expect(caret.apply(smallest(arrives(caret, ['aba']), caret)).selection.from).toBe(3);
  });

  it('tells the other plugins where the change comes from, and asks for no step of Undo', () => {
    const state = stateOf(['One', 'Two'], () => [1, 1]);
    const tr = smallest(arrives(state, ['One', 'Two, and more']), state);
    expect(tr.getMeta(ySyncPluginKey)).toEqual({ isChangeOrigin: true });
    expect(tr.getMeta('addToHistory')).toBe(false);
    expect(tr.steps.map((step) => step.toJSON() as object)).toEqual([
      { stepType: 'replace', from: 9, to: 9, slice: { content: [{ type: 'text', text: ', and more' }] } },
    ]);
  });

  it('leaves alone what is one’s own, one’s own Undo, and a caret amid what changed', () => {
    const state = stateOf(['One', 'Two', 'Three'], (doc) => {
      const at = placeOf(doc, 'wo');
      return [at, at];
    });
    const own = state.tr.insertText('x');
    expect(smallest(own, state)).toBe(own);
    const undone = arrives(state, ['One'], { isUndoRedoOperation: true });
    expect(smallest(undone, state)).toBe(undone);
    const around = arrives(state, ['Once', 'Two', 'Threes']);
    expect(smallest(around, state)).toBe(around);
  });
});
