import { Editor } from '@tiptap/core';
import { BlockMoves } from './block-moves';
import { bodyExtensions } from './editor-extensions';
import { SelectionFirst } from './selection-first';

const blocks = (editor: Editor) =>
  editor.getJSON().content!.map((b) => (b as { content?: { text: string }[] }).content?.[0]?.text);

it('a key moves the block that is selected on the screen, though the browser has not told of it yet', () => {
  const place = document.createElement('div');
  document.body.append(place);
  const editor = new Editor({
    element: place,
    extensions: [...bodyExtensions(), BlockMoves, SelectionFirst],
    // jsdom lays nothing out.
    editorProps: { handleScrollToSelection: () => true },
    content: '<p>One</p><p>Two</p><p>Three</p>',
  });
  editor.commands.setTextSelection(7);
  expect(editor.state.selection.$from.parent.textContent).toBe('Two');
  const first = editor.view.dom.querySelector('p')!.firstChild!;
  document.getSelection()!.collapse(first, 1);
  editor.view.dom.dispatchEvent(
    new KeyboardEvent('keydown', {
      key: 'ArrowDown',
      altKey: true,
      shiftKey: true,
      bubbles: true,
      cancelable: true,
    }),
  );
  expect(blocks(editor)).toEqual(['Two', 'One', 'Three']);
  editor.destroy();
});
