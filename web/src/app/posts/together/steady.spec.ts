import { getSchema } from '@tiptap/core';
import { Fragment, Slice, type Node } from '@tiptap/pm/model';
import { EditorState, TextSelection, type Transaction } from '@tiptap/pm/state';
import { ySyncPluginKey } from '@tiptap/y-tiptap';
import fc from 'fast-check';
import { bodyExtensions } from '../../editor/editor-extensions';
import { smallest } from './steady';

const schema = getSchema(bodyExtensions());
const paragraphs = (lines: readonly string[]) =>
  lines.map((line) => schema.node('paragraph', null, line ? [schema.text(line)] : []));
const stateOf = (lines: readonly string[], select: (doc: Node) => [number, number]) => {
  const state = EditorState.create({ schema, doc: schema.node('doc', null, paragraphs(lines)) });
  const [from, to] = select(state.doc);
  return state.apply(state.tr.setSelection(TextSelection.create(state.doc, from, to)));
};
/** A text as the sync plugin puts it in place of the one that is there, with the caret where it believes it to be. */
const arrives = (
  state: EditorState,
  lines: readonly string[],
  caret: (doc: Node) => number = (doc) => doc.content.size - 1,
  meta = {},
): Transaction => {
  const { tr } = state;
  tr.replace(0, tr.doc.content.size, new Slice(Fragment.from(paragraphs(lines)), 0, 0));
  return tr
    .setSelection(TextSelection.create(tr.doc, caret(tr.doc)))
    .setMeta(ySyncPluginKey, { isChangeOrigin: true, ...meta })
    .setMeta('addToHistory', false);
};
const linesOf = (doc: Node) => doc.content.content.map((node) => node.textContent);
/** The place behind so many characters of a paragraph. */
const placeIn = (doc: Node, line: number, offset: number) =>
  doc.content.content.slice(0, line).reduce((sum, node) => sum + node.nodeSize, 1) + offset;
const at = (pos: number): [number, number] => [pos, pos];
const caretOf = ({ doc, selection: { $head, empty } }: EditorState) => {
  expect(empty).toBe(true);
  return { line: doc.content.content.indexOf($head.parent), offset: $head.parentOffset };
};

describe('what others write, and one’s own caret', () => {
  const lines = fc.array(fc.constantFrom('', 'M', 'Mine', 'Mind the gap', 'a', 'ab', 'Find'), {
    maxLength: 5,
  });

  it('stays between its letters whatever changes before it or behind it', () => {
    fc.assert(
      fc.property(lines, lines, lines, fc.boolean(), fc.nat(4), (kept, old, now, isBefore, offset) => {
        const whole = (others: readonly string[]) =>
          isBefore ? [...others, 'Mine', ...kept] : [...kept, 'Mine', ...others];
        const mine = (others: readonly string[]) => (isBefore ? others.length : kept.length);
        const state = stateOf(whole(old), (doc) => at(placeIn(doc, mine(old), offset)));
        const arrived = arrives(state, whole(now), (doc) => placeIn(doc, mine(now), offset));
        const after = state.apply(smallest(arrived, state));
        expect(linesOf(after.doc)).toEqual(whole(now));
        // A text that is as it was leaves the caret alone.
        if (linesOf(state.doc).join('\n') !== whole(now).join('\n'))
          expect(caretOf(after)).toEqual({ line: mine(now), offset });
      }),
      { numRuns: 500 },
    );
  });

  it('is not carried away where the sync plugin has lost it', () => {
    fc.assert(
      fc.property(lines, lines, lines, fc.boolean(), fc.nat(9), (kept, old, now, isBefore, offset) => {
        // Unlike all others.
        const whole = (others: readonly string[]) =>
          isBefore ? [...others, 'xyz / zyx', ...kept] : [...kept, 'xyz / zyx', ...others];
        const mine = (others: readonly string[]) => (isBefore ? others.length : kept.length);
        const state = stateOf(whole(old), (doc) => at(placeIn(doc, mine(old), offset)));
        const after = state.apply(smallest(arrives(state, whole(now)), state));
        expect(caretOf(after)).toEqual({ line: mine(now), offset });
      }),
    );
  });

  it('stays with its words when a paragraph is split or joined, or written in on both sides', () => {
    const split = stateOf(['From the writer. And more.'], (doc) => at(placeIn(doc, 0, 20)));
    // The sync plugin has it at the end of what stayed.
    const parted = arrives(split, ['From the writer. ', 'And more.'], (doc) => placeIn(doc, 0, 17));
    expect(caretOf(split.apply(smallest(parted, split)))).toEqual({ line: 1, offset: 3 });

    const two = stateOf(['From the writer. ', 'And more.'], (doc) => at(placeIn(doc, 1, 3)));
    const joined = arrives(two, ['From the writer. And more.'], (doc) => placeIn(doc, 0, 0));
    expect(caretOf(two.apply(smallest(joined, two)))).toEqual({ line: 0, offset: 20 });

    const amid = stateOf(['One', 'Two', 'Three'], (doc) => at(placeIn(doc, 1, 1)));
    const around = arrives(amid, ['Once', 'Two', 'Threes'], (doc) => placeIn(doc, 1, 1));
    expect(caretOf(amid.apply(smallest(around, amid)))).toEqual({ line: 1, offset: 1 });
  });

  it('leaves what others type at the same place behind it at the end of a line, and keeps a selection', () => {
    const end = stateOf(['ours'], (doc) => at(placeIn(doc, 0, 4)));
    const theirs = arrives(end, ['ours, theirs'], (doc) => placeIn(doc, 0, 12));
    expect(caretOf(end.apply(smallest(theirs, end)))).toEqual({ line: 0, offset: 4 });

    const state = stateOf(['From the writer.', 'And more.'], (doc) => {
      const from = placeIn(doc, 1, 4);
      return [from, from + 4];
    });
    const after = state.apply(smallest(arrives(state, ['Chief says: From the writer.', 'And more.']), state));
    expect(after.doc.textBetween(after.selection.from, after.selection.to)).toBe('more');
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

  it('leaves alone what is one’s own, and one’s own Undo', () => {
    const state = stateOf(['One', 'Two', 'Three'], () => [2, 2]);
    const own = state.tr.insertText('x');
    expect(smallest(own, state)).toBe(own);
    const undone = arrives(state, ['One'], undefined, { isUndoRedoOperation: true });
    expect(smallest(undone, state)).toBe(undone);
  });
});
