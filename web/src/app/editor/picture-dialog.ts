import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { MediaView } from '@keyroster/contract';
import { PICTURE_SIDES, PICTURE_SIZES } from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';
import { LibraryDialog } from '../media/library-dialog';
import { ChoiceField, TextField, textControl } from '../ui/fields';
import { watchDialog } from '../ui/unsaved';
import { FileButton } from '../ui/file-button';
import { ErrorLine } from '../ui/error-line';
import { AtRoot } from '../api/root';

export interface PictureChoice {
  media: number;
  alt: string;
  caption: string;
  credit: string;
  size: string;
  side: string;
}
const SIZE_NAMES = { column: 'as wide as the text', wide: 'wider than the text', small: 'small' } as const;
const SIDE_NAMES = {
  none: 'on its own',
  left: 'on the left, text beside it',
  right: 'on the right, text beside it',
} as const;

/**
 * A picture for the text: from a file or the library, what it shows for those who cannot see it, and how it
 * stands.
 */
@Component({
  imports: [
    AtRoot,
    FileButton,
    MatButton,
    MatDialogModule,
    TextField,
    ErrorLine,
    ChoiceField,
    ReactiveFormsModule,
  ],
  templateUrl: './picture-dialog.html',
  styles: `
    img {
      max-width: 100%;
      max-height: 220px;
      display: block;
      margin-bottom: 10px;
      border-radius: 3px;
    }
    .two {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 0 14px;
      align-items: start;
    }
    .two [matButton] {
      margin-top: 19px;
      justify-self: start;
    }
    @media (max-width: 560px) {
      .two {
        grid-template-columns: 1fr;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PictureDialog {
  private readonly api = inject(Api);
  private readonly dialogs = inject(MatDialog);
  private readonly dialog = inject<MatDialogRef<PictureDialog, PictureChoice>>(MatDialogRef);
  protected readonly data = inject<PictureChoice | null>(MAT_DIALOG_DATA);
  protected readonly sizes = PICTURE_SIZES;
  protected readonly sides = PICTURE_SIDES;
  protected readonly sizeNames = SIZE_NAMES;
  protected readonly sideNames = SIDE_NAMES;
  protected readonly media = signal(this.data?.media ?? 0);
  protected readonly form = new FormGroup({
    alt: textControl(this.data?.alt),
    caption: textControl(this.data?.caption),
    credit: textControl(this.data?.credit),
    size: textControl(this.data?.size ?? 'column'),
    side: textControl(this.data?.side ?? 'none'),
  });
  protected readonly error = signal('');
  protected readonly busy = signal(false);

  constructor() {
    watchDialog(this.dialog, () => this.form.dirty || this.media() !== (this.data?.media ?? 0));
  }

  protected async upload([file]: File[]): Promise<void> {
    if (!file) return;
    this.busy.set(true);
    this.error.set('');
    try {
      this.choose(await this.api.call('media.add', { file }));
    } catch (error) {
      this.error.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }

  protected library(): void {
    this.dialogs
      .open<LibraryDialog, unknown, MediaView[]>(LibraryDialog, {
        data: { many: false },
        width: '860px',
        maxWidth: '94vw',
        ariaLabel: 'Choose a picture',
      })
      .afterClosed()
      .subscribe((chosen) => {
        if (chosen?.[0]) this.choose(chosen[0]);
      });
  }

  /** What the library knows of the picture comes along. */
  private choose({ id, alt, caption, credit }: MediaView): void {
    this.media.set(id);
    const words = this.form.getRawValue();
    this.form.patchValue({
      alt: alt || words.alt,
      caption: caption || words.caption,
      credit: credit || words.credit,
    });
  }

  protected done(): void {
    if (!this.media()) return;
    const { alt, caption, credit, ...rest } = this.form.getRawValue();
    this.form.markAsPristine();
    this.dialog.close({
      ...rest,
      media: this.media(),
      alt: alt.trim(),
      caption: caption.trim(),
      credit: credit.trim(),
    });
  }
}
