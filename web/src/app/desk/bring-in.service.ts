import { Injectable, computed, inject, signal } from '@angular/core';
import type { PostView } from '@keyroster/contract';
import {
  fieldLabels,
  formatList,
  POST_FIELDS,
  textFieldsIn,
  type BodyNode,
  type FileTexts,
} from '@keyroster/core';
import { Subject } from 'rxjs';
import { Api, sentenceOf } from '../api/api';
import { TaskService } from '../api/task.service';
import { MatDialog } from '@angular/material/dialog';
import { askImportPlace } from '../editor/import-place';
import type { Report } from '../editor/pasting';
import { PostService } from '../posts/post.service';
import type { TextEditor } from '../editor/text-editor';

/** What takes the place of the open text, or is put into it: a file, a starting text. */
@Injectable()
export class BringIn {
  private readonly api = inject(Api);
  private readonly posts = inject(PostService);
  private readonly dialogs = inject(MatDialog);
  private readonly task = inject(TaskService);
  private readonly cancelled = new Subject<void>();
  private readonly said = signal<Report | null>(null);
  /** What came of it, with a way back; while a file is read, how far that is. */
  readonly report = computed((): Report | null => {
    const running = this.task.running();
    return running ? { sentence: running.sentence, cancel: () => this.cancelled.next() } : this.said();
  });
  say(report: Report | null): void {
    this.said.set(report);
  }

  /** Starter text or a template takes the place of an empty text, and else stands at the caret. */
  start(editor: TextEditor, body: BodyNode): void {
    const isEmpty = editor.isEmpty();
    if (isEmpty) editor.replaceAll(body);
    else editor.insertBlocks((body.content ?? []).filter((b) => b.type !== 'foldLine'));
    this.say({
      sentence: isEmpty ? 'The starting text is in.' : 'The starting text stands where you were.',
      undo: () => editor.run((c) => c.undo()),
    });
  }

  /**
   * Imports a file: into an empty text, or where the person says. The step can be undone in the editor, and the text
   * before stays among the versions.
   */
  async importFile(editor: TextEditor, file: File): Promise<void> {
    const wasEmpty = editor.isEmpty();
    let place = wasEmpty ? 'replace' : await askImportPlace(this.dialogs, file.name);
    if (place === null) return;
    this.say(null);
    try {
      const read = await this.task.run(this.cancelled, 'import.convert', { file });
      if (read === null) return this.say({ sentence: `The import of “${file.name}” was cancelled.` });
      // What was written while the file was read is not replaced without a question.
      if (wasEmpty && !editor.isEmpty()) place = await askImportPlace(this.dialogs, file.name);
      if (place === null) return;
      // What was typed until now is a version of its own.
      await this.posts.flush();
      const before = this.posts.post()!;
      const blocks = (read.body.content ?? []).filter((b) => b.type !== 'foldLine');
      if (place === 'replace') editor.replaceAll(read.body);
      else if (place === 'append') editor.append(blocks);
      else editor.insertBlocks(blocks);
      const takesAll = place === 'replace';
      const title =
        takesAll && read.title && read.title !== before.title ? { title: read.title.slice(0, 300) } : {};
      const excerpt = takesAll && read.excerpt && before.excerpt === '' ? { excerpt: read.excerpt } : {};
      this.posts.type({ ...title, ...excerpt });
      this.posts.post.update((p) => p && { ...p, ...title, ...excerpt });
      const was = 'title' in title ? `The title was “${before.title}”.` : '';
      const say = (more: string) =>
        this.say({
          sentence: [read.sentence, was, more].filter(Boolean).join(' '),
          undo: () => editor.run((c) => c.undo()),
        });
      say('');
      await this.posts.flush();
      const texts = takesAll ? openTexts(before, read.texts) : {};
      const filled = fieldLabels(Object.keys(texts));
      if (filled.length > 0)
        await this.posts.change(texts).then(
          () => say(`Also from the file: ${formatList(filled)}.`),
          (error: unknown) => say(`Not saved from the file: ${formatList(filled)}. ${sentenceOf(error)}`),
        );
      // Without it, it is a version like any other.
      await this.api
        .call('versions.imported', { id: before.id, body: { file: file.name.slice(-200) } })
        .catch(() => undefined);
    } catch (error) {
      this.say({ sentence: sentenceOf(error) });
    }
  }
}

/** Texts of a file for which a post has nothing yet, and which this person may set. */
const openTexts = (post: PostView, texts: FileTexts): FileTexts =>
  Object.fromEntries(
    textFieldsIn('files').flatMap((field) =>
      texts[field] !== undefined && post[field] === '' && post.rights[POST_FIELDS[field].set]
        ? [[field, texts[field]]]
        : [],
    ),
  );
