import type { TestRequest } from '@angular/common/http/testing';
import { signal } from '@angular/core';
import type { PostView } from '@keyroster/contract';
import type { BodyNode } from '@keyroster/core';
import { answer, post, refuse, work } from '../../testing/newsroom';
import { TaskService } from '../api/task.service';
import { BringIn } from './bring-in.service';
import { PostService } from '../posts/post.service';
import type { TextEditor } from '../editor/text-editor';

const BODY: BodyNode = {
  type: 'doc',
  content: [{ type: 'paragraph', content: [{ type: 'text', text: 'Grease first.' }] }, { type: 'foldLine' }],
};
const view = signal<PostView | null>(null);
const words = signal(0);
let steps: string[];
let bringIn: BringIn;
const editor = {
  isEmpty: () => words() === 0,
  replaceAll: (body: BodyNode) => steps.push(`replaced with ${body.content!.length}`),
  insertBlocks: (blocks: BodyNode[]) => steps.push(`put in ${blocks.map((b) => b.type).join()}`),
  append: (blocks: BodyNode[]) => steps.push(`appended ${blocks.map((b) => b.type).join()}`),
  run: () => steps.push('undone'),
} as unknown as TextEditor;
async function open(parts: object = {}): Promise<void> {
  steps = [];
  view.set(post(parts as never));
  const posts = {
    post: view,
    flush: () => Promise.resolve(steps.push('saved')),
    type: (changes: object) => steps.push(`typed ${Object.keys(changes).join()}`),
    change: (changes: object) => Promise.resolve(steps.push(`changed ${JSON.stringify(changes)}`)),
  };
  bringIn = await work(BringIn, {
    providers: [{ provide: PostService, useValue: posts }, TaskService],
  });
}
const pressInDialog = async (name: string) => {
  await new Promise((done) => setTimeout(done));
  [...document.querySelectorAll<HTMLButtonElement>('mat-dialog-container button')]
    .find((b) => b.textContent!.trim() === name)!
    .click();
};
const file = new File(['x'], 'towpath.docx');
const read = (parts: object = {}) =>
  answer(
    (r) =>
      r.flush({
        body: BODY,
        title: null,
        excerpt: null,
        texts: {},
        sentence: 'Read: one paragraph.',
        ...parts,
      }),
    '/api/bring-in',
    'POST',
  );
const kept = () => answer((r) => r.flush(null), '/api/posts/7/imports', 'POST');

describe('a starting text', () => {
  it('takes the place of an empty text', async () => {
    await open();
    words.set(0);
    bringIn.start(editor, BODY);
    expect(steps).toEqual(['replaced with 2']);
  });

  it('stands at the caret of one that has words, without a second fold line, and can be undone', async () => {
    await open();
    words.set(40);
    bringIn.start(editor, BODY);
    bringIn.report()!.undo!();
    expect(steps).toEqual(['put in paragraph', 'undone']);
  });
});

describe('a file', () => {
  beforeEach(() => words.set(0));

  it('asks where it goes when something was written while it was read', async () => {
    await open();
    const done = bringIn.importFile(editor, file);
    words.set(3);
    await read();
    await pressInDialog('Append at the end');
    await kept();
    await done;
    expect(steps).toContain('appended paragraph');
    expect(steps).not.toContain('replaced with 2');
  });

  it.each([
    ['Replace the text', 'replaced with 2'],
    ['Append at the end', 'appended paragraph'],
    ['Insert at the cursor', 'put in paragraph'],
  ])('asks where it goes in a text that has words: %s', async (choice, step) => {
    await open({ title: 'Lamps', excerpt: 'Mine.' });
    words.set(40);
    const done = bringIn.importFile(editor, file);
    await pressInDialog(choice);
    await read({ title: 'Another title' });
    await kept();
    await done;
    expect(steps).toContain(step);
    // What is around the text is that of the text that was there, unless all of it is replaced.
    expect(view()!.title).toBe(choice === 'Replace the text' ? 'Another title' : 'Lamps');
  });

  it('that goes nowhere after all is not read', async () => {
    await open();
    words.set(40);
    const done = bringIn.importFile(editor, file);
    await pressInDialog('Cancel');
    await done;
    expect(steps).toEqual([]);
  });

  it('takes the place of the text once what was typed is a version of its own', async () => {
    await open({ title: 'Lamps', excerpt: '', subtitle: '', place: 'Tolver' });
    const done = bringIn.importFile(editor, file);
    await new Promise((go) => setTimeout(go));
    expect(bringIn.report()!.sentence).toBe('Reading the file …');
    await read({
      title: 'Lamps along the feeder',
      excerpt: 'Nine lamps.',
      texts: { subtitle: 'At night', place: 'Elsewhere' },
    });
    await kept();
    await done;
    expect(steps).toEqual([
      'saved',
      'replaced with 2',
      'typed title,excerpt',
      'saved',
      'changed {"subtitle":"At night"}',
    ]);
    expect(view()).toMatchObject({ title: 'Lamps along the feeder', excerpt: 'Nine lamps.' });
    expect(bringIn.report()!.sentence).toBe(
      'Read: one paragraph. The title was “Lamps”. Also from the file: subtitle.',
    );
  });

  it('changes neither a title that is the same nor an excerpt that somebody wrote', async () => {
    await open({ title: 'Lamps', excerpt: 'Mine.' });
    const done = bringIn.importFile(editor, file);
    await read({ title: 'Lamps', excerpt: 'Theirs.' });
    await kept();
    await done;
    expect(view()).toMatchObject({ title: 'Lamps', excerpt: 'Mine.' });
    expect(bringIn.report()!.sentence).toBe('Read: one paragraph.');
  });

  it('says how many come before it, and can be cancelled', async () => {
    await open();
    const done = bringIn.importFile(editor, file);
    let sent: TestRequest | undefined;
    await answer((r) => (sent = r), '/api/bring-in', 'POST');
    await answer((r) => r.flush({ task: { place: 2, done: 0, total: 0 } }), '/api/tasks');
    expect(bringIn.report()!.sentence).toBe('Waiting: 2 files before yours.');
    bringIn.report()!.cancel!();
    await done;
    expect(sent!.cancelled).toBe(true);
    expect([steps, bringIn.report()!.sentence]).toEqual([[], 'The import of “towpath.docx” was cancelled.']);
  });

  it('that cannot be read changes nothing', async () => {
    await open();
    const done = bringIn.importFile(editor, file);
    await answer(refuse({ detail: 'This is no document.' }), '/api/bring-in', 'POST');
    await done;
    expect([steps, bringIn.report()!.sentence]).toEqual([[], 'This is no document.']);
  });
});
