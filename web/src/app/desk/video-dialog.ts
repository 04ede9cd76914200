import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { FileView, MediaView } from '@keyroster/contract';
import { safeHref } from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';
import { LibraryDialog } from '../media/library-dialog';
import { TextField } from '../ui/fields';
import { FileButton } from '../ui/file-button';

interface VideoAttrs {
  file: number;
  poster: number;
  captions: number;
  href: string;
  title: string;
  description: string;
}
const NONE: VideoAttrs = { file: 0, poster: 0, captions: 0, href: '', title: '', description: '' };

/** A film: its file with poster and captions, or an address that is shown as a card and never loaded. */
@Component({
  imports: [FileButton, MatButton, MatDialogModule, TextField],
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
  protected readonly of = signal<VideoAttrs>({ ...NONE, ...this.data });
  protected readonly error = signal('');
  protected readonly busy = signal('');

  protected put(change: Partial<VideoAttrs>): void {
    this.of.update((v) => ({ ...v, ...change }));
  }

  protected async take([file]: File[], what: 'file' | 'captions'): Promise<void> {
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

  protected done(event: Event, typed: string, title: string, description: string): void {
    event.preventDefault();
    const href = typed.trim() === '' ? '' : safeHref(typed.trim());
    if (href === null || (href !== '' && !/^https?:/i.test(href)))
      this.error.set('The address of a video begins with https://.');
    else if (href === '' && !this.of().file) this.error.set('Choose a file, or give an address.');
    else this.dialog.close({ ...this.of(), href, title: title.trim(), description: description.trim() });
  }
}
