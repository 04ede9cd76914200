import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { MediaView } from '@keyroster/contract';
import { sayBytes, sayCount } from '@keyroster/core';
import { LibraryService } from './library.service';

/** Chooses one picture of the library, or several. */
@Component({
  imports: [MatDialogModule],
  providers: [LibraryService],
  template: `
    <div class="dialog">
      <h2>{{ data.many ? 'Pictures for the gallery' : 'Choose a picture' }}</h2>
      @if (library.fault()) { <p class="fault" role="alert">{{ library.fault() }}</p> }
      <div class="row"><label class="grow"><span class="unseen">Words</span><input type="search" placeholder="What it shows, its name, credit or tag" maxlength="200" (input)="later($any($event.target).value)" /></label>
        <label class="btn">Add files …<input class="unseen" type="file" multiple accept="image/jpeg,image/png,image/webp,image/gif" (change)="add($event)" /></label></div>
      @for (u of library.uploads(); track u) { @if (u.state !== 'kept') { <p class="soft" role="status">{{ u.name }}: {{ u.sentence || (u.state === 'sending' ? 'on its way' : 'waiting') }}</p> } }
      <ul class="grid" aria-label="Pictures">
        @for (p of library.pictures(); track p.id) {
          <li><button (click)="choose(p)" [attr.aria-pressed]="data.many ? chosen().includes(p) : null" [attr.aria-label]="p.alt || p.name || 'Picture ' + p.id"><img [src]="p.ready ? p.src + '/square.jpg' : p.src" alt="" loading="lazy" /><span>{{ p.name || 'picture ' + p.id }}</span><small class="soft">{{ bytes(p.size) }}</small></button></li>
        } @empty { @if (library.pictures()) { <li class="soft">No picture matches. Take a word away, or add files.</li> } }
      </ul>
      @if (library.next()) { <button class="btn small" (click)="library.more()">Show more</button> }
      <div class="ends"><button class="btn" mat-dialog-close>Cancel</button>@if (data.many) { <button class="btn act" [disabled]="chosen().length === 0" (click)="dialog.close(chosen())">Put {{ count(chosen().length) }} in</button> }</div>
    </div>
  `,
  styles: `
    .grow { flex: 1; } .grid { list-style: none; margin: 12px 0; padding: 2px; display: grid; grid-template-columns: repeat(auto-fill, minmax(120px, 1fr)); gap: 10px; max-height: 55vh; overflow: auto; }
    .grid button { display: grid; width: 100%; border: 1px solid var(--line); border-radius: 4px; background: var(--field); padding: 4px; cursor: pointer; text-align: left; gap: 1px; } .grid button:hover { border-color: var(--soft); } [aria-pressed='true'] { outline: 3px solid var(--verdigris); }
    img { width: 100%; aspect-ratio: 1; object-fit: cover; border-radius: 3px; background: var(--hair); } .grid span { font-size: 11.5px; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; } small { font-size: 11px; }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LibraryDialog {
  protected readonly library = inject(LibraryService);
  protected readonly dialog = inject<MatDialogRef<LibraryDialog, MediaView[]>>(MatDialogRef);
  protected readonly data = inject<{ many: boolean }>(MAT_DIALOG_DATA);
  protected readonly chosen = signal<MediaView[]>([]);
  protected readonly bytes = sayBytes;
  protected readonly count = (n: number) => sayCount(n, 'picture');
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor() {
    void this.library.find({});
  }

  protected later(words: string): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.library.find({ words: words.trim() }), 200);
  }

  protected choose(picture: MediaView): void {
    if (!this.data.many) this.dialog.close([picture]);
    else this.chosen.update((c) => (c.includes(picture) ? c.filter((p) => p !== picture) : [...c, picture]));
  }

  protected async add(event: Event): Promise<void> {
    const field = event.target as HTMLInputElement;
    const kept = await this.library.send([...(field.files ?? [])]);
    field.value = '';
    if (!this.data.many && kept.length === 1) this.dialog.close(kept);
  }
}
