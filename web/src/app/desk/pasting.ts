import { signal } from '@angular/core';
import type { Editor } from '@tiptap/core';
import { plainToBody } from '@keyroster/core';
import { sentenceOf } from '../api/api';
import { readPaste } from './paste';

/** A sentence about what came in, and the ways back from it. */
export interface Report {
  sentence: string;
  undo?: () => void;
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

  receiveFiles(files: FileList | undefined, event: Event): boolean {
    const pictures = [...(files ?? [])].filter((f) => f.type.startsWith('image/'));
    if (pictures.length === 0) return false;
    event.preventDefault();
    void (async () => {
      for (const file of pictures) {
        this.busy.set(`Keeping ${file.name || 'the picture'} …`);
        try {
          const media = await this.keep(file);
          this.editor
            .chain()
            .focus()
            .insertContent({ type: 'picture', attrs: { media, alt: '', caption: '' } })
            .run();
          this.report({
            sentence: 'The picture is in. It still needs an alternative text: select it and press Enter.',
          });
        } catch (error) {
          this.report({ sentence: sentenceOf(error) });
        }
      }
      this.busy.set('');
    })();
    return true;
  }
}
