import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { FileView, MediaView } from '@keyroster/contract';
import { safeHref } from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';
import { LibraryDialog } from '../media/library-dialog';

interface VideoAttrs { file: number; poster: number; captions: number; href: string; title: string; description: string }
const NONE: VideoAttrs = { file: 0, poster: 0, captions: 0, href: '', title: '', description: '' };

/** A film: its file with poster and captions, or an address that is shown as a card and never loaded. */
@Component({
  imports: [MatDialogModule],
  template: `
    <form class="dialog" (submit)="done($event, href.value, title.value, words.value)" novalidate>
      <h2>Video</h2>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      <label class="field"><span>{{ of().file ? 'Another file' : 'File' }}</span><input type="file" accept="video/mp4,video/webm" (change)="take($event, 'file')" /><small>{{ busy() || (of().file ? 'The film is kept.' : 'MP4 or WebM, up to 20 MB.') }}</small></label>
      <label class="field"><span>{{ of().captions ? 'Other captions' : 'Captions' }}</span><input type="file" accept=".vtt,.srt" (change)="take($event, 'captions')" /><small>{{ of().captions ? 'Captions are kept.' : 'WebVTT or SubRip; without them some readers miss everything that is said.' }}</small></label>
      <label class="field"><span>Or an address elsewhere</span><input #href maxlength="2000" [value]="of().href" placeholder="https://…" /><small>It is shown as a card that leads there; nothing is loaded from it.</small></label>
      <div class="field row">@if (of().poster) { <img [src]="'/media/' + of().poster" alt="The poster you chose" /> }<button type="button" class="btn small" (click)="poster()">{{ of().poster ? 'Another poster' : 'Choose a poster' }}</button>@if (of().poster) { <button type="button" class="btn small plain" (click)="put({ poster: 0 })">Take it away</button> }</div>
      <label class="field"><span>Title</span><input #title maxlength="300" [value]="of().title" /></label>
      <label class="field"><span>Description</span><textarea #words rows="2" maxlength="1000" [value]="of().description"></textarea></label>
      <div class="ends"><button type="button" class="btn" mat-dialog-close>Cancel</button><button class="btn act" type="submit" [disabled]="busy() !== ''">{{ data ? 'Change it' : 'Put it in the text' }}</button></div>
    </form>
  `,
  styles: `img { height: 60px; border-radius: 3px; }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class VideoDialog {
  private readonly api = inject(Api);
  private readonly dialogs = inject(MatDialog);
  private readonly dialog = inject<MatDialogRef<VideoDialog, VideoAttrs>>(MatDialogRef);
  protected readonly data = inject<VideoAttrs | null>(MAT_DIALOG_DATA);
  protected readonly of = signal<VideoAttrs>({ ...NONE, ...this.data });
  protected readonly fault = signal('');
  protected readonly busy = signal('');

  protected put(change: Partial<VideoAttrs>): void {
    this.of.update((v) => ({ ...v, ...change }));
  }

  protected async take(event: Event, what: 'file' | 'captions'): Promise<void> {
    const file = (event.target as HTMLInputElement).files?.[0];
    if (!file) return;
    this.busy.set('Keeping it …');
    this.fault.set('');
    try {
      const kept: FileView = await this.api.call('files.add', { file });
      if ((kept.type === 'text/vtt') !== (what === 'captions')) this.fault.set(what === 'captions' ? 'That is a film, not captions.' : 'Those are captions, not a film.');
      else this.put({ [what]: kept.id });
    } catch (error) {
      this.fault.set(sentenceOf(error));
    } finally {
      this.busy.set('');
    }
  }

  protected poster(): void {
    this.dialogs.open<LibraryDialog, unknown, MediaView[]>(LibraryDialog, { data: { many: false }, width: '860px', maxWidth: '94vw', ariaLabel: 'Choose a poster' }).afterClosed()
      .subscribe((chosen) => { if (chosen?.[0]) this.put({ poster: chosen[0].id }); });
  }

  protected done(event: Event, typed: string, title: string, description: string): void {
    event.preventDefault();
    const href = typed.trim() === '' ? '' : safeHref(typed.trim());
    if (href === null || (href !== '' && !/^https?:/i.test(href))) this.fault.set('The address of a video begins with https://.');
    else if (href === '' && !this.of().file) this.fault.set('Choose a file, or give an address.');
    else this.dialog.close({ ...this.of(), href, title: title.trim(), description: description.trim() });
  }
}
