import type { Editor } from '@tiptap/core';
import { NodeSelection, Selection } from '@tiptap/pm/state';
import type { BodyNode } from '@keyroster/core';
import type { PromptedBlock } from './inserts';

/** Puts blocks where the caret is, or at the end of a text that nobody has been in yet. */
export function insertBlocks(editor: Editor, content: BodyNode[]): void {
  editor.chain().focus().insertContent(content).run();
  openEnd(editor);
  const { selection, doc, tr } = editor.state;
  if (!(selection instanceof NodeSelection)) return;
  const after = selection.$to.depth > 0 ? selection.$to.after(1) : selection.to;
  editor.view.dispatch(tr.setSelection(Selection.near(doc.resolve(after), 1)));
}

/** After a block that is not simply written on there is a line to go on with. */
export function openEnd(editor: Editor): void {
  const { doc, schema, tr } = editor.state;
  if (!doc.lastChild?.isTextblock || doc.lastChild.type.name === 'codeBlock')
    editor.view.dispatch(tr.insert(doc.content.size, schema.nodes['paragraph']!.create()));
}

/** Leads to a top-level block, and into it where it can be typed in. */
export function showBlock(editor: Editor, index: number, editable: boolean): void {
  const { doc, tr } = editor.state;
  let at = 0;
  for (let i = 0; i < Math.min(index, doc.childCount - 1); i++) at += doc.child(i).nodeSize;
  const node = doc.nodeAt(at);
  const dom = editor.view.nodeDOM(at);
  if (dom instanceof HTMLElement) dom.scrollIntoView({ block: 'center' });
  if (!node || !editable) return;
  if (node.isAtom) editor.view.dispatch(tr.setSelection(NodeSelection.create(doc, at)));
  else editor.commands.setTextSelection(at + 1);
  editor.view.focus();
}

/** The block with a dialog of its own that is selected, or null. */
export function selectedBlock(
  editor: Editor,
): { name: PromptedBlock; attrs: Record<string, unknown> } | null {
  const { selection } = editor.state;
  if (!(selection instanceof NodeSelection)) return null;
  const name = selection.node.type.name;
  return name === 'picture' || name === 'video' || name === 'button' || name === 'signUp'
    ? { name, attrs: { ...selection.node.attrs } }
    : null;
}
