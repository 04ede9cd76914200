import { Extension } from '@tiptap/core';
import {
  NodeSelection,
  Plugin,
  PluginKey,
  Selection,
  TextSelection,
  type EditorState,
  type Transaction,
} from '@tiptap/pm/state';
import type { Node, ResolvedPos } from '@tiptap/pm/model';
import type { EditorView } from '@tiptap/pm/view';
import type { BlockMove } from '@keyroster/core';
import { alone } from '../posts/together/carets';

/** The top-level block that the selection is in: its index, and where it begins and ends. */
export function blockAt(state: EditorState): { index: number; from: number; to: number } | null {
  const { $from } = state.selection;
  const index = $from.index(0);
  const node = state.doc.maybeChild(index);
  if (!node) return null;
  let from = 0;
  for (let i = 0; i < index; i++) from += state.doc.child(i).nodeSize;
  return { index, from, to: from + node.nodeSize };
}

const positionOf = (state: EditorState, index: number): number => {
  let at = 0;
  for (let i = 0; i < index; i++) at += state.doc.child(i).nodeSize;
  return at;
};

/** Puts a run of blocks before another, the caret going along; one step that can be undone. */
export function moveRun(state: EditorState, { from, to, at }: BlockMove): Transaction {
  const [start, end, target] = [positionOf(state, from), positionOf(state, to), positionOf(state, at)];
  const slice = state.doc.slice(start, end);
  const tr = alone(state.tr).delete(start, end);
  const place = target > start ? target - (end - start) : target;
  tr.insert(place, slice.content);
  const caret = Math.min(place + Math.max(1, state.selection.from - start), tr.doc.content.size);
  const inside = state.selection.from >= start && state.selection.from <= end;
  return tr
    .setSelection(
      inside && state.selection instanceof NodeSelection
        ? NodeSelection.create(tr.doc, place)
        : TextSelection.near(tr.doc.resolve(inside ? caret : Math.min(place + 1, tr.doc.content.size))),
    )
    .scrollIntoView();
}

/** Moves the block in focus past its neighbour. */
export function stepBlock(view: EditorView, direction: -1 | 1): boolean {
  const block = blockAt(view.state);
  const count = view.state.doc.childCount;
  if (!block || (direction < 0 ? block.index === 0 : block.index >= count - 1)) return true;
  view.dispatch(
    moveRun(view.state, {
      from: block.index,
      to: block.index + 1,
      at: direction < 0 ? block.index - 1 : block.index + 2,
    }),
  );
  return true;
}

/** Puts a copy of the block in focus below it. A fold line is one and is not doubled. */
export function doubleBlock(view: EditorView): boolean {
  const block = blockAt(view.state);
  const node = block && view.state.doc.child(block.index);
  if (!node || node.type.name === 'foldLine') return true;
  view.dispatch(alone(view.state.tr).insert(block.to, node.copy(node.content)).scrollIntoView());
  return true;
}

/** The handle beside the block under the pointer: it drags the block. */
function handle(view: EditorView): { update(): void; destroy(): void } {
  const grip = document.createElement('div');
  grip.className = 'grip';
  grip.draggable = true;
  grip.title = 'Drag this block, or move it with Alt Shift ↑ and ↓';
  grip.setAttribute('aria-hidden', 'true');
  grip.hidden = true;
  let host: HTMLElement | null = null;
  let at = -1;
  /** A browser ends a drag whose source goes out of sight. */
  let dragged = false;
  const find = (event: MouseEvent) => {
    if (!view.editable || !host) return;
    const box = view.dom.getBoundingClientRect();
    const found = view.posAtCoords({ left: box.left + 60, top: event.clientY });
    if (!found) return;
    const $pos = view.state.doc.resolve(found.inside >= 0 ? Math.max(found.pos, found.inside) : found.pos);
    at = $pos.depth > 0 ? $pos.before(1) : $pos.pos;
    const dom = view.nodeDOM(at);
    if (!(dom instanceof HTMLElement)) return;
    grip.hidden = false;
    grip.style.top = `${dom.getBoundingClientRect().top - host.getBoundingClientRect().top + 2}px`;
  };
  const hide = () => {
    grip.hidden = !dragged;
  };
  const start = (event: DragEvent) => {
    if (at < 0 || !event.dataTransfer) return;
    dragged = true;
    const selection = NodeSelection.create(view.state.doc, at);
    view.dispatch(view.state.tr.setSelection(selection));
    const slice = selection.content();
    event.dataTransfer.effectAllowed = 'move';
    event.dataTransfer.setData('text/html', view.serializeForClipboard(slice).dom.innerHTML);
    const dom = view.nodeDOM(at);
    if (dom instanceof HTMLElement) event.dataTransfer.setDragImage(dom, 0, 0);
    view.dragging = { slice, move: true };
  };
  const leave = () => {
    host?.removeEventListener('mousemove', find);
    host?.removeEventListener('mouseleave', hide);
    grip.remove();
  };
  /** The editor is made before it has a place on the page, and moves into it later. */
  const settle = () => {
    hide();
    const now = view.dom.parentElement;
    if (now === host || !now?.isConnected) return;
    leave();
    host = now;
    host.style.position = 'relative';
    host.append(grip);
    host.addEventListener('mousemove', find);
    host.addEventListener('mouseleave', hide);
  };
  grip.addEventListener('dragstart', start);
  grip.addEventListener('dragend', () => {
    dragged = false;
    hide();
  });
  return { update: settle, destroy: leave };
}

/**
 * Three clicks select a paragraph up to the start of the next one: where a fold line lies between, the selection ends
 * before it, so that typing replaces the words and keeps the line.
 */
export function keptFromFold(doc: Node, $anchor: ResolvedPos, $head: ResolvedPos): TextSelection | null {
  if ($head.pos <= $anchor.pos || !$anchor.parent.isTextblock) return null;
  const isAtStart = $head.depth === 0 || $head.parentOffset === 0;
  const before = $head.depth === 0 ? $head : doc.resolve($head.before(1));
  const fold = [before.nodeBefore, before.nodeAfter].find((node) => node?.type.name === 'foldLine');
  if (!isAtStart || !fold) return null;
  const end = Selection.findFrom(before, -1, true);
  return end && end.to > $anchor.pos ? TextSelection.create(doc, $anchor.pos, end.to) : null;
}

/** Blocks moved by handle and by keyboard, and one fold line at most: where two meet, the newer stays. */
export const BlockMoves = Extension.create({
  name: 'blockMoves',
  addKeyboardShortcuts() {
    return {
      'Alt-Shift-ArrowUp': () => stepBlock(this.editor.view, -1),
      'Alt-Shift-ArrowDown': () => stepBlock(this.editor.view, 1),
      'Mod-Alt-d': () => doubleBlock(this.editor.view),
    };
  },
  addProseMirrorPlugins: () => [
    new Plugin({
      key: new PluginKey('blockMoves'),
      view: handle,
      props: {
        createSelectionBetween: (view, $anchor, $head) => keptFromFold(view.state.doc, $anchor, $head),
      },
      appendTransaction: (transactions, before, after) => {
        if (!transactions.some((t) => t.docChanged)) return null;
        const folds: number[] = [];
        after.doc.descendants((node, pos) => {
          if (node.type.name === 'foldLine') folds.push(pos);
        });
        if (folds.length < 2) return null;
        const old = new Set<number>();
        before.doc.descendants((node, pos) => {
          if (node.type.name === 'foldLine') old.add(transactions.reduce((p, t) => t.mapping.map(p), pos));
        });
        const stays = folds.find((pos) => !old.has(pos)) ?? folds[0];
        const tr = after.tr;
        for (const pos of folds.filter((p) => p !== stays).reverse()) tr.delete(pos, pos + 1);
        return tr;
      },
    }),
  ],
});
