import { signal } from '@angular/core';
import type { Editor } from '@tiptap/core';
import { plainToBody } from '@keyroster/core';
import { sentenceOf } from '../api/api';
import { readPaste } from './paste';

/** A sentence about what came in, and the ways back from it. */
export interface Report {
  sentence: string;
  undo?: () => void;
  /** Ends what is still going on. */
  cancel?: () => void;
  /** Takes the plain words instead. */
  plain?: () => void;
}

/** What the clipboard and dropped files bring into a text. */
export class Pasting {
  readonly busy = signal('');

  constructor(
    private readonly editor: Editor,
    private readonly keep: (file: File) => Promise<number>,
    private readonly report: (report: Report) => void,
    /** Reads a document into the text, asking where it goes. */
    private readonly readDocument: (file: File) => void,
  ) {}

  paste(event: ClipboardEvent): boolean {
    const data = event.clipboardData;
    if (!data) return false;
    const html = data.getData('text/html');
    if (html === '') return data.getData('text/plain') === '' && this.receiveFiles(data.files, event);
    // What was copied within an editor of ours already is what a post may hold.
    if (html.includes('data-pm-slice')) return false;
    event.preventDefault();
    void this.insertHtml(
      html,
      data.getData('text/plain'),
      [...data.files].filter((f) => f.type.startsWith('image/')),
    );
    return true;
  }

  private async insertHtml(html: string, words: string, files: readonly File[]): Promise<void> {
    this.busy.set('Bringing in what was pasted …');
    try {
      const { content, sentence } = await readPaste(html, this.keep, files);
      const only = content[0];
      const inline = content.length === 1 && only?.type === 'paragraph';
      this.editor
        .chain()
        .focus()
        .insertContent(inline ? (only.content ?? []) : content)
        .run();
      const undo = () => {
        this.editor.chain().focus().undo().run();
      };
      this.report({
        sentence,
        undo,
        ...(words === ''
          ? {}
          : {
              plain: () => {
                undo();
                this.editor
                  .chain()
                  .insertContent(plainToBody(words).content ?? [])
                  .run();
              },
            }),
      });
    } catch (error) {
      this.report({ sentence: sentenceOf(error) });
    } finally {
      this.busy.set('');
    }
  }

  /** Files that are dropped or pasted: all pictures are placed in their order, a document is read into the text. */
  receiveFiles(files: FileList | undefined, event: Event): boolean {
    const all = [...(files ?? [])];
    if (all.length === 0) return false;
    event.preventDefault();
    const pictures = all.filter((f) => f.type.startsWith('image/'));
    const [document, ...others] = all.filter((f) => !f.type.startsWith('image/'));
    void this.placePictures(pictures, others).then(() => document && this.readDocument(document));
    return true;
  }

  private async placePictures(pictures: readonly File[], skipped: readonly File[]): Promise<void> {
    const media: number[] = [];
    const faults = skipped.map((file) => `“${file.name}” was not imported: one document at a time.`);
    for (const [i, file] of pictures.entries()) {
      const name = file.name || 'the picture';
      this.busy.set(
        pictures.length > 1 ? `Keeping ${name}, ${i + 1} of ${pictures.length} …` : `Keeping ${name} …`,
      );
      try {
        media.push(await this.keep(file));
      } catch (error) {
        faults.push(`“${file.name}” was not placed: ${sentenceOf(error)}`);
      }
    }
    this.busy.set('');
    // All at once: a picture that was just placed is selected, and the next would take its place.
    if (media.length > 0)
      this.editor
        .chain()
        .focus()
        .insertContent(media.map((id) => ({ type: 'picture', attrs: { media: id, alt: '', caption: '' } })))
        .run();
    const placed =
      media.length === 0
        ? ''
        : media.length === 1
          ? 'The picture is in. It still needs an alternative text: select it and press Enter.'
          : `${media.length} pictures are in. Each still needs an alternative text: select it and press Enter.`;
    const sentence = [placed, ...faults].filter(Boolean).join(' ');
    if (sentence) this.report({ sentence });
  }
}
