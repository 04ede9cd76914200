import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { sentenceOf } from '../api/api';
import { PostService } from './post.service';

export interface PictureChoice {
  media: number;
  alt: string;
  caption: string;
}

/** A picture for the text: the file, what it shows for those who cannot see it, and a caption. */
@Component({
  imports: [MatDialogModule],
  template: `
    <form class="dialog" (submit)="done($event, alt.value, caption.value)" novalidate>
      <h2>Picture</h2>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      @if (media()) { <img [src]="'/media/' + media()" alt="The picture you chose" /> }
      <label class="field"><span>{{ media() ? 'Another file' : 'File' }}</span><input type="file" accept="image/jpeg,image/png,image/webp,image/gif" (change)="take($event)" /><small>{{ busy() ? 'Keeping it …' : 'JPEG, PNG, WebP or GIF, up to 20 MB.' }}</small></label>
      <label class="field"><span>Alternative text</span><input #alt maxlength="1000" [value]="data?.alt ?? ''" /><small>What it shows, for those who cannot see it. A post needs one for every picture before it is cleared.</small></label>
      <label class="field"><span>Caption</span><input #caption maxlength="1000" [value]="data?.caption ?? ''" /></label>
      <div class="ends"><button type="button" class="btn" mat-dialog-close>Cancel</button><button class="btn act" type="submit" [disabled]="busy() || !media()">{{ data ? 'Change it' : 'Put it in the text' }}</button></div>
    </form>
  `,
  styles: `img { max-width: 100%; max-height: 220px; display: block; margin-bottom: 10px; border-radius: 3px; }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PictureDialog {
  private readonly posts = inject(PostService);
  private readonly dialog = inject<MatDialogRef<PictureDialog, PictureChoice>>(MatDialogRef);
  protected readonly data = inject<PictureChoice | null>(MAT_DIALOG_DATA);
  protected readonly media = signal(this.data?.media ?? 0);
  protected readonly fault = signal('');
  protected readonly busy = signal(false);

  protected async take(event: Event): Promise<void> {
    const file = (event.target as HTMLInputElement).files?.[0];
    if (!file) return;
    this.busy.set(true);
    this.fault.set('');
    try {
      this.media.set(await this.posts.keepPicture(file));
    } catch (error) {
      this.fault.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }

  protected done(event: Event, alt: string, caption: string): void {
    event.preventDefault();
    if (this.media()) this.dialog.close({ media: this.media(), alt: alt.trim(), caption: caption.trim() });
  }
}
