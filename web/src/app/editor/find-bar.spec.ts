import { Editor } from '@tiptap/core';
import { show, type Shown } from '../../testing/newsroom';
import { line, press, type } from '../../testing/hands';
import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { bodyExtensions } from './editor-extensions';
import { FindBar } from './find-bar';
import { SearchMarks } from './search-marks';

let bar: Shown<FindBar>;
let editor: Editor;
const closed: string[] = [];
async function open(text: string, editable = true): Promise<void> {
  editor = new Editor({
    extensions: [...bodyExtensions(), SearchMarks],
    content: { type: 'doc', content: [{ type: 'paragraph', content: [{ type: 'text', text }] }] },
  });
  bar = await show(FindBar, { inputs: { editor, editable } });
  bar.component.closed.subscribe(() => closed.push('closed'));
}
const said = () => bar.page.querySelector('[role=status]')!.textContent;
const text = () => editor.state.doc.textContent;

describe('find and replace in a text', () => {
  afterEach(() => editor.destroy());

  it('counts what it finds, with or without heed to capitals', async () => {
    await open('Lock, lock and clock.');
    await type(bar.loader, 'Find', 'lock');
    expect(said()).toBe('3 found');
    await (await bar.loader.getHarness(MatCheckboxHarness.with({ label: 'Match case' }))).check();
    expect(said()).toBe('2 found');
    await type(bar.loader, 'Find', 'weir');
    expect(said()).toBe('not in the text');
    await type(bar.loader, 'Find', '');
    expect(said()).toBe('');
  });

  it('takes signs as they are', async () => {
    await open('A (b) c. Abc.');
    await type(bar.loader, 'Find', '(b)');
    expect(said()).toBe('1 found');
  });

  it('counts anew when the text changes under it', async () => {
    await open('Lock.');
    await type(bar.loader, 'Find', 'lock');
    editor.commands.insertContentAt(1, 'A lock. ');
    await bar.fixture.whenStable();
    expect(said()).toBe('2 found');
  });

  it('puts other words in the place of one or of all', async () => {
    await open('Lock, lock, lock.');
    await type(bar.loader, 'Find', 'lock');
    await type(bar.loader, 'Replace with', 'gate');
    // The first press chooses what the second replaces.
    await press(bar.loader, 'Replace');
    await press(bar.loader, 'Replace');
    expect(text().match(/gate/g)).toHaveLength(1);
    await press(bar.loader, /^Replace all 2/);
    expect(text()).toBe('gate, gate, gate.');
    expect(said()).toBe('2 replaced. Undo takes them back.');
  });

  it('replaces nothing for those who may only read', async () => {
    await open('Lock.', false);
    await type(bar.loader, 'Find', 'lock');
    await expect(press(bar.loader, 'Replace')).rejects.toThrow();
    await (await (await line(bar.loader, 'Replace with')).host()).dispatchEvent('keydown', { key: 'Enter' });
    expect(text()).toBe('Lock.');
  });

  it('leaves no marks behind when it is closed', async () => {
    await open('Lock.');
    await type(bar.loader, 'Find', 'lock');
    closed.length = 0;
    await press(bar.loader, 'Close');
    expect(closed).toEqual(['closed']);
    expect(editor.view.dom.querySelector('.ProseMirror-search-match')).toBeNull();
  });
});
