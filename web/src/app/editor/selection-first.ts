import { Extension } from '@tiptap/core';
import { Plugin, PluginKey, TextSelection } from '@tiptap/pm/state';
import type { EditorView } from '@tiptap/pm/view';

/** Keys that act on what is selected, without Ctrl or Alt. */
const ACTS = ['Backspace', 'Delete', 'Enter'];

/**
 * Has a key act on what is selected on the screen: a busy browser tells of a selection after the key that follows it,
 * and the key would act on what was selected before.
 */
export const SelectionFirst = Extension.create({
  name: 'selectionFirst',
  // Before whatever answers to keys.
  priority: 10_000,
  addProseMirrorPlugins: () => [
    new Plugin({
      key: new PluginKey('selectionFirst'),
      props: {
        handleDOMEvents: {
          keydown: (view, event) => {
            if (event.altKey || event.ctrlKey || event.metaKey || ACTS.includes(event.key))
              readSelection(view);
            return false;
          },
        },
      },
    }),
  ],
});

/** Takes a selection that the browser has not reported yet. */
export function readSelection(view: EditorView): void {
  const on = view.dom.ownerDocument.getSelection();
  const { selection, doc } = view.state;
  if (
    !on?.anchorNode ||
    !on.focusNode ||
    !view.dom.contains(on.anchorNode) ||
    !view.dom.contains(on.focusNode)
  )
    return;
  // A block that is selected whole is shown by more than the browser's selection.
  if (!(selection instanceof TextSelection) && !on.isCollapsed) return;
  const anchor = view.posAtDOM(on.anchorNode, on.anchorOffset);
  const head = view.posAtDOM(on.focusNode, on.focusOffset);
  if (anchor === selection.anchor && head === selection.head) return;
  const seen = TextSelection.between(doc.resolve(anchor), doc.resolve(head));
  if (!seen.eq(selection)) view.dispatch(view.state.tr.setSelection(seen));
}
