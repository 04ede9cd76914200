import { getSchema } from '@tiptap/core';
import { Node } from '@tiptap/pm/model';
import { EditorState, NodeSelection, TextSelection } from '@tiptap/pm/state';
import fc from 'fast-check';
import { moveBlocks, type BodyNode } from '@keyroster/core';
import { blockAt, keptFromFold, moveRun } from './block-moves';
import { bodyExtensions } from './editor-extensions';
import { insertsFor, INSERTS } from './inserts';

const schema = getSchema(bodyExtensions());
const bodyOf = (words: readonly string[]): BodyNode => ({
  type: 'doc',
  content: words.map((text) =>
    text === '—' ? { type: 'foldLine' } : { type: 'paragraph', content: [{ type: 'text', text }] },
  ),
});
const stateOf = (body: BodyNode) => EditorState.create({ schema, doc: Node.fromJSON(schema, body) });
const wordsOf = (state: EditorState) =>
  (state.doc.toJSON() as BodyNode).content!.map((b) => b.content?.[0]?.text ?? '—');

describe('moving blocks in the editor', () => {
  it('does what core says of the same move, whatever is moved where', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('a', 'bb', '—', 'cc c', 'd'), { minLength: 2, maxLength: 9 }),
        fc.nat(8),
        fc.nat(8),
        fc.nat(9),
        (words, a, b, at) => {
          const [from, to] = [
            Math.min(a, b) % words.length,
            Math.max(a % words.length, b % words.length) + 1,
          ];
          const target = at % (words.length + 1);
          if (target >= from && target <= to) return;
          const body = bodyOf(words);
          const state = stateOf(body);
          const after = state.apply(moveRun(state, { from: Math.min(from, to - 1), to, at: target }));
          expect(after.doc.toJSON()).toEqual(
            Node.fromJSON(
              schema,
              moveBlocks(body, { from: Math.min(from, to - 1), to, at: target }),
            ).toJSON(),
          );
        },
      ),
    );
  });
  it('takes the caret along, in the same place of the block', () => {
    const state = stateOf(bodyOf(['one', 'two', 'three']));
    const within = state.apply(state.tr.setSelection(TextSelection.create(state.doc, 2)));
    const after = within.apply(moveRun(within, { from: 0, to: 1, at: 3 }));
    expect(wordsOf(after)).toEqual(['two', 'three', 'one']);
    expect([blockAt(after)!.index, after.selection.$from.parentOffset]).toEqual([2, 1]);
  });
  it('keeps a block that is selected whole selected', () => {
    const state = stateOf(bodyOf(['one', '—', 'two']));
    const selected = state.apply(state.tr.setSelection(NodeSelection.create(state.doc, 5)));
    const after = selected.apply(moveRun(selected, { from: 1, to: 2, at: 0 }));
    expect(wordsOf(after)).toEqual(['—', 'one', 'two']);
    expect(after.selection instanceof NodeSelection && after.selection.node.type.name).toBe('foldLine');
  });
  it('can be taken back in one step', () => {
    const state = stateOf(bodyOf(['one', 'two', 'three']));
    const tr = moveRun(state, { from: 2, to: 3, at: 0 });
    const after = state.apply(tr);
    let back = after.tr;
    for (let i = tr.steps.length - 1; i >= 0; i--) back = back.step(tr.steps[i]!.invert(tr.docs[i]!));
    expect(wordsOf(after.apply(back))).toEqual(['one', 'two', 'three']);
  });
});

describe('the choice of blocks', () => {
  const labels = (words: string) => insertsFor(words).map((i) => i.label);
  it('finds by the name and by what people call it', () => {
    expect(insertsFor('')).toHaveLength(INSERTS.length);
    expect(labels('pull')).toEqual(['Pull quote']);
    expect(labels('photo')).toEqual(['Picture …']);
    expect(labels('TO DO')).toEqual(['Check list']);
    expect(labels('newsletter')).toEqual(['Sign-up for the letter …']);
    expect(labels('nothing of the kind')).toEqual([]);
  });
  it('names every block once', () => {
    expect(new Set(INSERTS.map((i) => i.label)).size).toBe(INSERTS.length);
  });
});

describe('a paragraph that three clicks select', () => {
  const state = stateOf(bodyOf(['The opening.', '—', 'What follows.']));
  const at = (pos: number) => state.doc.resolve(pos);
  const opening = 13;
  // Browsers end such a selection at the fold line, behind it, or at the start of the next paragraph.
  it.each([14, 15, 16])('ends before the fold line, wherever the browser ended it (%i)', (head) => {
    const selection = keptFromFold(state.doc, at(1), at(head))!;
    expect([selection.from, selection.to]).toEqual([1, opening]);
    const typed = state.apply(state.tr.setSelection(selection).insertText('Anew'));
    expect(wordsOf(typed)).toEqual(['Anew', '—', 'What follows.']);
  });
  it('is left alone where more is selected, or backwards', () => {
    expect(keptFromFold(state.doc, at(1), at(20))).toBeNull();
    expect(keptFromFold(state.doc, at(16), at(1))).toBeNull();
    expect(keptFromFold(state.doc, at(1), at(5))).toBeNull();
  });
});
