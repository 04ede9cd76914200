import type { Editor } from '@tiptap/core';

/** Blocks that need a word or a file before they stand; their dialogs are the editor's. */
export type PromptedBlock = 'picture' | 'gallery' | 'video' | 'button' | 'signUp' | 'section';

/** A kind of block to put into the text. */
export interface Insert {
  label: string;
  /** Other words it is found by. */
  words: string;
  /** What it does at once, or which block has to be asked about. */
  does: ((editor: Editor) => void) | PromptedBlock;
}

const put = (content: object) => (editor: Editor) => {
  editor.chain().focus().insertContent(content).run();
};

/** Everything that can be put into a text, in the order of the menu. */
export const INSERTS: readonly Insert[] = [
  {
    label: 'Heading 2',
    words: 'title big',
    does: (e) => {
      e.chain().focus().setHeading({ level: 2 }).run();
    },
  },
  {
    label: 'Heading 3',
    words: 'title small',
    does: (e) => {
      e.chain().focus().setHeading({ level: 3 }).run();
    },
  },
  {
    label: 'Heading 4',
    words: 'title smallest',
    does: (e) => {
      e.chain().focus().setHeading({ level: 4 }).run();
    },
  },
  {
    label: 'List',
    words: 'bullets dots',
    does: (e) => {
      e.chain().focus().toggleBulletList().run();
    },
  },
  {
    label: 'Numbered list',
    words: 'numbers steps ordered',
    does: (e) => {
      e.chain().focus().toggleOrderedList().run();
    },
  },
  {
    label: 'Check list',
    words: 'tick to do',
    does: (e) => {
      e.chain().focus().toggleList('checkList', 'checkItem').run();
    },
  },
  {
    label: 'Quote',
    words: 'citation',
    does: (e) => {
      e.chain().focus().toggleBlockquote().run();
    },
  },
  {
    label: 'Pull quote',
    words: 'large words out of the text',
    does: (e) => {
      e.chain().focus().setNode('pullQuote').run();
    },
  },
  {
    label: 'Note box',
    words: 'aside tip warning',
    does: (e) => {
      e.chain().focus().wrapIn('noteBox').run();
    },
  },
  { label: 'Picture …', words: 'image photo', does: 'picture' },
  { label: 'Gallery …', words: 'pictures side by side', does: 'gallery' },
  { label: 'Video …', words: 'film', does: 'video' },
  {
    label: 'Table',
    words: 'rows columns',
    does: (e) => {
      e.chain().focus().insertTable({ rows: 3, cols: 2, withHeaderRow: true }).run();
    },
  },
  {
    label: 'Code block',
    words: 'program',
    does: (e) => {
      e.chain().focus().toggleCodeBlock().run();
    },
  },
  {
    label: 'Divider',
    words: 'line rule',
    does: (e) => {
      e.chain().focus().setHorizontalRule().run();
    },
  },
  { label: 'Fold line', words: 'front page stops more', does: placeFold },
  {
    label: 'Table of contents',
    words: 'headings overview',
    does: put([{ type: 'contents' }, { type: 'paragraph' }]),
  },
  { label: 'Button …', words: 'link leads call', does: 'button' },
  { label: 'Sign-up for the letter …', words: 'newsletter e-mail', does: 'signUp' },
  { label: 'A section from another post …', words: 'take copy earlier', does: 'section' },
];

/** Inserts that fit the words typed, all of them when none are. */
export function insertsFor(words: string): readonly Insert[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  return INSERTS.filter((i) => wanted.every((w) => `${i.label} ${i.words}`.toLowerCase().includes(w)));
}

/** Puts the fold line after the block in focus; the one that stood elsewhere goes (see block-moves.ts). */
export function placeFold(editor: Editor): void {
  const { doc, selection } = editor.state;
  const after = selection.$from.depth > 0 ? selection.$from.after(1) : selection.to;
  const node = editor.schema.nodes['foldLine']!.create();
  if (doc.nodeAt(after)?.type.name === 'foldLine') return;
  editor.view.dispatch(editor.state.tr.insert(after, node));
  editor.commands.focus();
}
