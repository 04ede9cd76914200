import { Extension } from '@tiptap/core';
import type { Node } from '@tiptap/pm/model';
import {
  Plugin,
  PluginKey,
  TextSelection,
  type EditorState,
  type Selection,
  type Transaction,
} from '@tiptap/pm/state';
import { ReplaceStep } from '@tiptap/pm/transform';
import type { EditorView } from '@tiptap/pm/view';
import { yCursorPluginKey, ySyncPluginKey } from '@tiptap/y-tiptap';
import type { TextConnection } from './text-connection';

/** What the sync plugin says of a change: whether it comes out of the shared document, and by one's own Undo. */
interface SyncMeta {
  isChangeOrigin?: boolean;
  isUndoRedoOperation?: boolean;
}

/**
 * Reads what the browser has put into the text, or where it has put the caret, and the editor has not heard of yet.
 * The browser tells of a caret only some time after it was set; a change drawn in between would put it back.
 */
function readScreen(view: EditorView): void {
  // Not among the types the editor publishes; there is no other way to have it read before it is told to.
  (view as unknown as { domObserver: { flush(): void } }).domObserver.flush();
}

/** The text before a place in its paragraph and behind it, with the paragraph's own ends. */
function around(doc: Node, pos: number): [before: string, after: string] | null {
  const { parent, parentOffset } = doc.resolve(pos);
  if (!parent.isTextblock) return null;
  const text = (from: number, to: number) => parent.textBetween(from, to, null, '\ufffc');
  return [`\n${text(0, parentOffset)}`, `${text(parentOffset, parent.content.size)}\n`];
}

/** How many characters on both sides of a place are as they were. */
function likeness(then: [string, string], now: [string, string] | null): number {
  if (!now) return -1;
  let [before, after] = [0, 0];
  while (before < then[0].length && then[0].at(-1 - before) === now[0].at(-1 - before)) before++;
  while (after < then[1].length && then[1][after] === now[1][after]) after++;
  return before + after;
}

/**
 * The place among some, in a changed text, whose surroundings are most like those of a place before; the
 * first of equals.
 */
function placeLike(before: Node, pos: number, after: Node, places: readonly number[]): number {
  const then = around(before, pos);
  if (!then) return places[0]!;
  const alike = places.map((place) => likeness(then, around(after, place)));
  return places[alike.indexOf(Math.max(...alike))]!;
}

/**
 * A change by somebody else as the smallest one that leads to the same text. The sync plugin puts a whole new text in
 * the place of the old one and, where it has lost the caret, looks for it by the words of its paragraph, so that it
 * could be carried elsewhere between two keys. The smallest change alone may mistake one of two alike paragraphs for
 * the other. So the caret goes where the words around it stand, of what either of them says.
 *
 * Returns the transaction itself where it is one's own, also by Undo, which knows where the caret belongs.
 */
export function smallest(transaction: Transaction, state: EditorState): Transaction {
  const sync = transaction.getMeta(ySyncPluginKey) as SyncMeta | undefined;
  if (!sync?.isChangeOrigin || sync.isUndoRedoOperation || !transaction.docChanged) return transaction;
  const small = state.tr;
  const start = state.doc.content.findDiffStart(transaction.doc.content);
  if (start !== null) {
    let { a: endBefore, b: endAfter } = state.doc.content.findDiffEnd(transaction.doc.content)!;
    // Repeated letters are found from both sides: "aa" made "aaa" differs behind its end, and before its start.
    const overlap = start - Math.min(endBefore, endAfter);
    if (overlap > 0) {
      endBefore += overlap;
      endAfter += overlap;
    }
    const step = new ReplaceStep(start, endBefore, transaction.doc.slice(start, endAfter));
    if (small.maybeStep(step).failed || !small.doc.eq(transaction.doc)) return transaction;
    small.setSelection(selectionAfter(transaction, small, state));
  }
  small.setMeta(ySyncPluginKey, sync).setMeta('addToHistory', false);
  return transaction.scrolledIntoView ? small.scrollIntoView() : small;
}

function selectionAfter({ selection }: Transaction, small: Transaction, state: EditorState): Selection {
  if (!(state.selection instanceof TextSelection)) return small.selection;
  const place = (pos: number, synced: number) =>
    placeLike(state.doc, pos, small.doc, [
      synced,
      small.mapping.map(pos, 1),
      // What others type right where one's own caret is stands behind it, so that each has their words in one piece.
      small.mapping.map(pos, -1),
    ]);
  const anchor = place(state.selection.anchor, selection.anchor);
  const head = state.selection.empty ? anchor : place(state.selection.head, selection.head);
  return TextSelection.between(small.doc.resolve(anchor), small.doc.resolve(head));
}

/** Keeps one's own caret and words where they are while others write in the same text. */
export const steady = (text: TextConnection) =>
  Extension.create({
    name: 'steady',
    dispatchTransaction({ transaction, next }) {
      const { editor } = this;
      const moved: unknown = transaction.getMeta(yCursorPluginKey);
      if (!moved || transaction.docChanged || transaction.getMeta(ySyncPluginKey))
        return next(smallest(transaction, editor.state));
      // Somebody’s caret moved: it is drawn on what is there once the screen has been read.
      readScreen(editor.view);
      next(editor.state.tr.setMeta(yCursorPluginKey, moved).setMeta('addToHistory', false));
    },
    addProseMirrorPlugins: () => [
      new Plugin({
        key: new PluginKey('steady'),
        view: (view) => {
          const arriving = text.arriving.subscribe(() => readScreen(view));
          return { destroy: () => arriving.unsubscribe() };
        },
      }),
    ],
  });
