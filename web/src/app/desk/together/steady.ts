import { Extension } from '@tiptap/core';
import { Plugin, PluginKey, type EditorState, type Transaction } from '@tiptap/pm/state';
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

/**
 * A change by somebody else as the smallest one that leads to the same text. The sync plugin puts a whole new text in
 * the place of the old one and guesses at the caret by the words around it, so that a caret could be carried to
 * another paragraph between two keys. With the smallest change it moves only with the words it stands among. A caret
 * within what changed, and Undo, are left to the sync plugin, which knows where they belong.
 *
 * Returns the transaction itself where it is none of these.
 */
export function smallest(transaction: Transaction, state: EditorState): Transaction {
  const sync = transaction.getMeta(ySyncPluginKey) as SyncMeta | undefined;
  if (!sync?.isChangeOrigin || sync.isUndoRedoOperation || !transaction.docChanged) return transaction;
  const before = state.doc.content;
  const after = transaction.doc.content;
  const small = state.tr;
  const start = before.findDiffStart(after);
  if (start !== null) {
    let { a: endBefore, b: endAfter } = before.findDiffEnd(after)!;
    // Repeated letters are found from both sides: "aa" made "aaa" differs behind its end, and before its start.
    const overlap = start - Math.min(endBefore, endAfter);
    if (overlap > 0) {
      endBefore += overlap;
      endAfter += overlap;
    }
    const step = new ReplaceStep(start, endBefore, transaction.doc.slice(start, endAfter));
    if (small.maybeStep(step).failed || !small.doc.eq(transaction.doc)) return transaction;
    const { from, to } = state.selection;
    if (to > start && from < endBefore) return transaction;
  }
  small.setMeta(ySyncPluginKey, sync).setMeta('addToHistory', false);
  return transaction.scrolledIntoView ? small.scrollIntoView() : small;
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
