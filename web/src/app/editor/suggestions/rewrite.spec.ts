import { getSchema } from '@tiptap/core';
import { joinBackward, setBlockType, splitBlock, toggleMark, wrapIn } from '@tiptap/pm/commands';
import { Node } from '@tiptap/pm/model';
import { EditorState, TextSelection, type Command, type Transaction } from '@tiptap/pm/state';
import {
  asItWas,
  asItWouldBe,
  checkBody,
  keyOf,
  suggestionsIn,
  suggestsOnly,
  type BodyNode,
} from '@keyroster/core';
import fc from 'fast-check';
import { bodyExtensions } from '../editor-extensions';
import { plainWords, suggestionOf } from './rewrite';

const schema = getSchema(bodyExtensions());
const ME = { personId: () => 7, now: () => '2026-11-27T07:30Z' };
const key = (personId: number) => keyOf({ personId, at: '2026-11-27T07:30Z', id: 'a' });
const p = (...texts: (string | BodyNode)[]): BodyNode => ({
  type: 'paragraph',
  content: texts.map((t) => (typeof t === 'string' ? { type: 'text', text: t } : t)),
});
const mark = (text: string, type: 'inserted' | 'deleted', personId = 7): BodyNode => ({
  type: 'text',
  text,
  marks: [{ type, attrs: { key: key(personId) } }],
});
const doc = (...content: BodyNode[]): BodyNode => ({ type: 'doc', content });

const stateOf = (body: BodyNode, from = 1, to = from) => {
  const state = EditorState.create({ schema, doc: Node.fromJSON(schema, body) });
  return state.apply(state.tr.setSelection(TextSelection.create(state.doc, from, to)));
};
const bodyOf = (state: EditorState) => {
  const answer = checkBody(state.doc.toJSON());
  if (!answer.ok) throw new Error(answer.sentence);
  return answer.body;
};
/** What comes of a change while one suggests. */
function suggested(state: EditorState, change: (tr: Transaction) => Transaction): EditorState {
  const after = state.apply(change(state.tr));
  const tr = suggestionOf(ME, state, after);
  return tr ? after.apply(tr) : after;
}
const told = (state: EditorState) => suggestionsIn(bodyOf(state)).map((s) => [s.kind, s.was, s.becomes]);

describe('somebody who suggests', () => {
  it('types: the words are put in by suggestion, one suggestion as long as they go on', () => {
    let state = stateOf(doc(p('Open the gate.')), 10);
    for (const letter of 'top ') state = suggested(state, (tr) => tr.insertText(letter));
    expect(told(state)).toEqual([['insert', '', 'top ']]);
    expect(state.selection.head).toBe(14);
    expect(asItWas(bodyOf(state))).toEqual(doc(p('Open the gate.')));
  });

  it('deletes back and forth: the words are marked, and the caret goes on', () => {
    let state = stateOf(doc(p('Open the gate.')), 5);
    const back = (tr: Transaction) => tr.delete(tr.selection.head - 1, tr.selection.head);
    const forth = (tr: Transaction) => tr.delete(tr.selection.head, tr.selection.head + 1);
    for (let i = 0; i < 4; i++) state = suggested(state, back);
    expect([told(state), state.selection.head]).toEqual([[['delete', 'Open', '']], 1]);
    state = stateOf(doc(p('Open the gate.')), 1);
    for (let i = 0; i < 4; i++) state = suggested(state, forth);
    expect([told(state), state.selection.head]).toEqual([[['delete', 'Open', '']], 5]);
    // What is marked already stays so.
    expect(told(suggested(state, back))).toEqual([['delete', 'Open', '']]);
  });

  it('types over words: they are replaced', () => {
    let state = stateOf(doc(p('Open the gate.')), 6, 9);
    for (const letter of 'a') state = suggested(state, (tr) => tr.insertText(letter));
    expect(told(state)).toEqual([['replace', 'the', 'a']]);
    state = suggested(state, (tr) => tr.insertText('n'));
    expect(told(state)).toEqual([['replace', 'the', 'an']]);
    expect(asItWouldBe(bodyOf(state))).toEqual(doc(p('Open an gate.')));
  });

  it('takes back what they put in, and only marks what others did', () => {
    const mine = stateOf(doc(p('Open ', mark('top ', 'inserted'), 'gate.')), 10);
    expect(told(suggested(mine, (tr) => tr.delete(6, 10)))).toEqual([]);
    const theirs = stateOf(doc(p('Open ', mark('top ', 'inserted', 8), 'gate.')), 10);
    const both = bodyOf(suggested(theirs, (tr) => tr.delete(6, 10)));
    expect(suggestionsIn(both).map((s) => [s.personId, s.kind])).toEqual([
      [7, 'delete'],
      [8, 'insert'],
    ]);
  });

  it('sets words in another way', () => {
    const state = stateOf(doc(p('Open the gate.')), 6, 9);
    const bold = suggested(state, (tr) => tr.addMark(6, 9, schema.marks['bold']!.create()));
    expect(told(bold)).toEqual([['format', 'the', 'the']]);
  });

  it('moves no fold line', () => {
    const state = stateOf(doc(p('One.'), p('Two.')));
    const folded = suggested(state, (tr) => tr.insert(6, schema.node('foldLine')));
    expect(bodyOf(folded)).toEqual(doc(p('One.'), p('Two.')));
  });

  it('replaces words in many places, each for itself', () => {
    const state = stateOf(doc(p('A lock.'), p('Between.'), p('A lock.')));
    const after = suggested(state, (tr) => tr.insertText('weir', 22, 26).insertText('weir', 3, 7));
    expect(told(after)).toEqual([
      ['replace', 'lock', 'weir'],
      ['replace', 'lock', 'weir'],
    ]);
  });
});

it('whoever writes among suggestions writes words of their own', () => {
  const state = stateOf(
    doc(p('Open ', mark('the top ', 'deleted', 8), mark('a low', 'inserted', 8), ' gate.')),
  );
  for (const [at, kinds] of [
    [8, ['replace']],
    [16, ['replace']],
  ] as const) {
    const after = state.apply(state.tr.insertText('X', at));
    const plain = after.apply(plainWords(state, after)!);
    expect(JSON.stringify(asItWas(bodyOf(plain)))).toContain('X');
    expect(JSON.stringify(asItWouldBe(bodyOf(plain)))).toContain('X');
    expect(suggestionsIn(bodyOf(plain)).map((s) => s.kind)).toEqual(kinds);
  }
  // Setting words bold changes whose they are for nobody.
  const bold = state.apply(state.tr.addMark(6, 9, schema.marks['bold']!.create()));
  expect(plainWords(state, bold)).toBeNull();
});

/** Anything that one does in an editor, at any place. */
const step = fc.record({
  does: fc.constantFrom(
    'type',
    'type',
    'delete',
    'delete',
    'split',
    'join',
    'heading',
    'bold',
    'quote',
    'rule',
  ),
  from: fc.nat({ max: 200 }),
  size: fc.nat({ max: 12 }),
  words: fc.constantFrom('gate ', 'é', 'a b', ' '),
});
type Step = typeof step extends fc.Arbitrary<infer S> ? S : never;

function changeBy(state: EditorState, { does, from, size, words }: Step): Transaction | null {
  const most = state.doc.content.size;
  const near = (pos: number) => TextSelection.near(state.doc.resolve(Math.min(pos, most)));
  const selection = TextSelection.between(near(from % most).$from, near((from % most) + size).$to);
  const placed = state.apply(
    state.tr.setSelection(does === 'split' || does === 'join' ? near(from % most) : selection),
  );
  const commands: Record<string, Command> = {
    type: (s, dispatch) => (dispatch?.(s.tr.insertText(words)), true),
    delete: (s, dispatch) => (dispatch?.(s.tr.deleteSelection()), true),
    split: splitBlock,
    join: joinBackward,
    heading: setBlockType(schema.nodes['heading']!, { level: 2 }),
    bold: toggleMark(schema.marks['bold']!),
    quote: wrapIn(schema.nodes['blockquote']!),
    rule: (s, dispatch) => (dispatch?.(s.tr.replaceSelectionWith(schema.node('horizontalRule'))), true),
  };
  let made: Transaction | null = null;
  commands[does]!(placed, (tr) => (made = tr));
  return made;
}
const START = doc(
  p('Open the top gate.'),
  { type: 'heading', attrs: { level: 2 }, content: [{ type: 'text', text: 'Then' }] },
  { type: 'bulletList', content: [{ type: 'listItem', content: [p('Wait for the level.')] }] },
  p('Close it again.'),
);

it('one suggestion is the same as the change, once it is accepted', () => {
  fc.assert(
    fc.property(step, (does) => {
      const state = stateOf(START);
      const change = changeBy(state, does);
      if (!change) return;
      const after = state.apply(change);
      const tr = suggestionOf(ME, state, after);
      const suggestion = tr ? after.apply(tr) : after;
      expect(asItWouldBe(bodyOf(suggestion))).toEqual(bodyOf(after));
      expect(asItWas(bodyOf(suggestion))).toEqual(bodyOf(state));
    }),
    { numRuns: 400 },
  );
});

it('whatever one does, the text and what others suggest in it stay as they are', () => {
  const theirs = doc(
    p('Open the ', mark('top ', 'inserted', 8), mark('gate', 'deleted', 9), '.'),
    { ...p('Mine to change.'), attrs: { suggested: `inserted ${key(7)}` } },
    { ...p('Gone, says somebody.'), attrs: { suggested: `deleted ${key(9)}` } },
    ...START.content!,
  );
  fc.assert(
    fc.property(fc.array(step, { maxLength: 12 }), (steps) => {
      let state = stateOf(theirs);
      for (const does of steps) {
        const change = changeBy(state, does);
        if (!change) continue;
        const after = state.apply(change);
        const tr = suggestionOf(ME, state, after);
        const next = tr ? after.apply(tr) : after;
        expect([does, suggestsOnly(bodyOf(state), bodyOf(next), 7)]).toEqual([does, true]);
        state = next;
      }
      expect(asItWas(bodyOf(state))).toEqual(asItWas(theirs));
    }),
    { numRuns: 300 },
  );
});
