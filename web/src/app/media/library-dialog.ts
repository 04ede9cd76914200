import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { FileButton } from '../ui/file-button';
import type { MediaView } from '@keyroster/contract';
import { formatBytes, formatCount } from '@keyroster/core';
import { TextField } from '../ui/fields';
import { LibraryService } from './library.service';
import { ErrorLine } from '../ui/error-line';
import { later } from '../ui/later';
import { AtRoot } from '../api/root';

/** Chooses one picture of the library, or several. */
@Component({
  imports: [AtRoot, FileButton, MatButton, MatDialogModule, TextField, ErrorLine],
  providers: [LibraryService],
  templateUrl: './library-dialog.html',
  styles: `
    .grow {
      flex: 1;
    }
    .grid {
      list-style: none;
      margin: 12px 0;
      padding: 2px;
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(120px, 1fr));
      gap: 10px;
      max-height: 55vh;
      overflow: auto;
    }
    img {
      width: 100%;
      aspect-ratio: 1;
      object-fit: cover;
      margin-bottom: 3px;
      background: var(--hair);
    }
    .grid span,
    small {
      padding-inline: 6px;
    }
    .grid span {
      font-size: 11.5px;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    small {
      font-size: 11px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LibraryDialog {
  protected readonly library = inject(LibraryService);
  protected readonly dialog = inject<MatDialogRef<LibraryDialog, MediaView[]>>(MatDialogRef);
  protected readonly data = inject<{ many: boolean }>(MAT_DIALOG_DATA);
  protected readonly chosen = signal<MediaView[]>([]);
  protected readonly bytes = formatBytes;
  protected readonly count = (n: number) => formatCount(n, 'picture');

  constructor() {
    void this.library.find({});
  }

  protected readonly later = later(200, (words: string) => void this.library.find({ words: words.trim() }));

  protected readonly has = (picture: MediaView) => this.chosen().some((p) => p.id === picture.id);

  protected choose(picture: MediaView): void {
    if (!this.data.many) this.dialog.close([picture]);
    else
      this.chosen.update((c) => (this.has(picture) ? c.filter((p) => p.id !== picture.id) : [...c, picture]));
  }

  protected async add(files: File[]): Promise<void> {
    const kept = await this.library.send(files);
    if (!this.data.many && kept.length === 1) this.dialog.close(kept);
    // Files added here are meant to be used.
    if (this.data.many) this.chosen.update((c) => [...c, ...kept.filter((p) => !this.has(p))]);
  }
}
