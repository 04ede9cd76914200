import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { FileView, MediaView } from '@keyroster/contract';
import { safeHref } from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';
import { LibraryDialog } from '../media/library-dialog';
import { TextField, isReady, must, textControl } from '../ui/fields';
import { watchDialog } from '../ui/unsaved';
import { FileButton } from '../ui/file-button';
import { ErrorLine } from '../ui/error-line';
import { AtRoot } from '../api/root';

interface VideoAttrs {
  file: number;
  poster: number;
  captions: number;
  href: string;
  title: string;
  description: string;
}
const NONE: VideoAttrs = { file: 0, poster: 0, captions: 0, href: '', title: '', description: '' };

const isWebAddress = (typed: string): boolean =>
  typed.trim() === '' || /^https?:/i.test(safeHref(typed.trim()) ?? '');

/** A film: its file with poster and captions, or an address that is shown as a card and never loaded. */
@Component({
  imports: [AtRoot, FileButton, MatButton, MatDialogModule, TextField, ErrorLine, ReactiveFormsModule],
  templateUrl: './video-dialog.html',
  styles: `
    img {
      height: 60px;
      border-radius: 3px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class VideoDialog {
  private readonly api = inject(Api);
  private readonly dialogs = inject(MatDialog);
  private readonly dialog = inject<MatDialogRef<VideoDialog, VideoAttrs>>(MatDialogRef);
  protected readonly data = inject<VideoAttrs | null>(MAT_DIALOG_DATA);
  private readonly began: VideoAttrs = { ...NONE, ...this.data };
  protected readonly of = signal<VideoAttrs>(this.began);
  protected readonly form = new FormGroup({
    href: textControl(this.of().href, must(isWebAddress, 'The address of a video begins with https://.')),
    title: textControl(this.of().title),
    description: textControl(this.of().description),
  });
  protected readonly error = signal('');
  protected readonly busy = signal('');

  constructor() {
    watchDialog(this.dialog, () => this.form.dirty || this.of() !== this.began);
  }

  protected put(change: Partial<VideoAttrs>): void {
    this.of.update((v) => ({ ...v, ...change }));
  }

  protected async upload([file]: File[], what: 'file' | 'captions'): Promise<void> {
    if (!file) return;
    this.busy.set('Keeping it …');
    this.error.set('');
    try {
      const kept: FileView = await this.api.call('files.add', { file });
      if ((kept.type === 'text/vtt') !== (what === 'captions'))
        this.error.set(
          what === 'captions' ? 'That is a film, not captions.' : 'Those are captions, not a film.',
        );
      else this.put({ [what]: kept.id });
    } catch (error) {
      this.error.set(sentenceOf(error));
    } finally {
      this.busy.set('');
    }
  }

  protected poster(): void {
    this.dialogs
      .open<LibraryDialog, unknown, MediaView[]>(LibraryDialog, {
        data: { many: false },
        width: '860px',
        maxWidth: '94vw',
        ariaLabel: 'Choose a poster',
      })
      .afterClosed()
      .subscribe((chosen) => {
        if (chosen?.[0]) this.put({ poster: chosen[0].id });
      });
  }

  protected done(): void {
    if (!isReady(this.form)) return;
    const { href, title, description } = this.form.getRawValue();
    if (href.trim() === '' && !this.of().file) {
      this.error.set('Choose a file, or give an address.');
      return;
    }
    this.form.markAsPristine();
    this.dialog.close({
      ...this.of(),
      href: href.trim() && safeHref(href.trim())!,
      title: title.trim(),
      description: description.trim(),
    });
  }
}
