import { Extension } from '@tiptap/core';
import type { Node as DocNode } from '@tiptap/pm/model';
import { Plugin, PluginKey, type EditorState } from '@tiptap/pm/state';
import { Decoration, DecorationSet } from '@tiptap/pm/view';
import { findPassage, passageAt, type Passage } from '@keyroster/core';

/**
 * A document's text with the position of every character, so that passages in text can be found in the
 * document.
 */
export function textIndex(doc: DocNode): { text: string; positions: number[] } {
  let text = '';
  const positions: number[] = [];
  doc.descendants((node, pos) => {
    if (node.isTextblock && text !== '') {
      text += '\n';
      positions.push(pos);
    }
    if (node.isText) {
      for (let i = 0; i < node.text!.length; i++) positions.push(pos + i);
      text += node.text;
    } else if (node.type.name === 'hardBreak') {
      text += '\n';
      positions.push(pos);
    }
    return true;
  });
  return { text, positions };
}

/** The passage that a selection covers, or null when it covers no text. */
export function passageOf(doc: DocNode, from: number, to: number): Passage | null {
  const { text, positions } = textIndex(doc);
  const start = positions.findIndex((p) => p >= from);
  let end = positions.findIndex((p) => p >= to);
  if (end < 0) end = positions.length;
  return start < 0 || end <= start || text.slice(start, end).trim() === ''
    ? null
    : passageAt(text, start, end);
}

export function rangeOf(
  doc: DocNode,
  passage: Passage,
  index = textIndex(doc),
): { from: number; to: number } | null {
  const found = findPassage(index.text, passage);
  if (!found) return null;
  return { from: index.positions[found.from]!, to: index.positions[found.to - 1]! + 1 };
}

export interface MarkedPassage {
  noteId: number;
  passage: Passage;
}

const key = new PluginKey<DecorationSet>('notes');

function draw(state: EditorState, marked: readonly MarkedPassage[]): DecorationSet {
  if (marked.length === 0) return DecorationSet.empty;
  const index = textIndex(state.doc);
  return DecorationSet.create(
    state.doc,
    marked.flatMap(({ noteId, passage }) => {
      const range = rangeOf(state.doc, passage, index);
      return range
        ? [Decoration.inline(range.from, range.to, { class: 'note', 'data-note': String(noteId) })]
        : [];
    }),
  );
}

/**
 * Shades the words that open notes are about. The shading follows the text as it is edited; `remark` draws it
 * again.
 */
export const NotePassages = Extension.create({
  name: 'notePassages',
  addProseMirrorPlugins: () => [
    new Plugin<DecorationSet>({
      key,
      state: {
        init: () => DecorationSet.empty,
        apply: (transaction, old, _before, state) => {
          const marked = transaction.getMeta(key) as readonly MarkedPassage[] | undefined;
          return marked ? draw(state, marked) : old.map(transaction.mapping, transaction.doc);
        },
      },
      props: { decorations: (state) => key.getState(state) },
    }),
  ],
});

export const marking = { key };
