import { Extension } from '@tiptap/core';
import { Plugin, PluginKey, type EditorState } from '@tiptap/pm/state';
import { Decoration, DecorationSet } from '@tiptap/pm/view';

const key = new PluginKey<DecorationSet>('leftovers');

/** Meta of a transaction that marks the blocks at these indexes as left over. */
export const leftoverMeta = key;

function drawn(state: EditorState, indexes: readonly number[]): DecorationSet {
  const wanted = new Set(indexes);
  const marks: Decoration[] = [];
  state.doc.forEach((node, offset, index) => {
    if (wanted.has(index))
      marks.push(
        Decoration.node(offset, offset + node.nodeSize, {
          class: 'left-over',
          title: 'Left over from the post this was copied from',
        }),
      );
  });
  return DecorationSet.create(state.doc, marks);
}

/**
 * Marks what still is the source's in a copied post. Typing keeps the marks where they are until the text is
 * measured again.
 */
export const LeftoverMarks = Extension.create({
  name: 'leftovers',
  addProseMirrorPlugins: () => [
    new Plugin<DecorationSet>({
      key,
      state: {
        init: () => DecorationSet.empty,
        apply: (tr, set, _before, after) => {
          const indexes = tr.getMeta(key) as readonly number[] | undefined;
          return indexes ? drawn(after, indexes) : set.map(tr.mapping, tr.doc);
        },
      },
      props: { decorations: (state) => key.getState(state) },
    }),
  ],
});
