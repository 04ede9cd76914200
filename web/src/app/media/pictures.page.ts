import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import type { MediaView, MediaQuery } from '@keyroster/contract';
import { LEAD_WEIGHT, sayBytes, sayCount } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Live } from '../api/live';
import { LibraryService } from './library.service';
import { PictureSheet } from './picture-sheet';

const USES: { use: MediaQuery['use']; name: string }[] = [{ use: 'all', name: 'All' }, { use: 'used', name: 'Used' }, { use: 'unused', name: 'Unused' }, { use: 'binned', name: 'Bin' }];

/** The library: many files at once, found again by words, tag and use, and described beside. */
@Component({
  imports: [RouterLink, PictureSheet],
  providers: [LibraryService],
  template: `
    <div class="screen" (dragover)="$event.preventDefault()" (drop)="dropped($event)" (paste)="pasted($event)">
      <div class="row spread head"><h1>Pictures</h1><span class="row"><a class="btn" routerLink="/desk">Back to the desk</a>@if (session.may('addPictures')) { <label class="btn act">Add pictures …<input class="unseen" type="file" multiple aria-label="Add pictures" accept="image/jpeg,image/png,image/webp,image/gif" (change)="picked($event)" /></label> }</span></div>
      <form class="row filter" role="search" (submit)="$event.preventDefault()">
        <label class="words"><span class="unseen">Words</span><input type="search" [value]="words() ?? ''" placeholder="What it shows, its name, credit or tag" maxlength="200" (input)="later($any($event.target).value)" /></label>
        <label><span class="unseen">Tag</span><select (change)="set({ tag: $any($event.target).value })"><option value="">every tag</option>@for (t of library.tags(); track t) { <option [value]="t" [selected]="t === tag()">{{ t }}</option> }</select></label>
        <div class="seg" role="group" aria-label="Use">@for (u of uses; track u.use) { <button type="button" [attr.aria-pressed]="(use() ?? 'all') === u.use" (click)="set({ use: u.use === 'all' ? '' : u.use })">{{ u.name }}</button> }</div>
      </form>
      @if (library.fault()) { <p class="fault" role="alert">{{ library.fault() }}</p> }
      @if (library.uploads().length > 0) {
        <section class="uploads" aria-label="On the way in"><p role="status">{{ uploading() }}</p>
          <ul>@for (u of library.uploads(); track u) { @if (u.state !== 'kept') { <li [class.refused]="u.state === 'refused'"><span>{{ u.name }}</span>@if (u.state === 'refused') { <b>{{ u.sentence }}</b> } @else { <progress [value]="u.progress" max="1" [attr.aria-label]="u.name"></progress> }</li> } }</ul>
          @if (settled()) { <button class="btn small" (click)="library.uploads.set([])">Close</button> }</section>
      }
      <div class="columns" [class.two]="chosen()">
        <div>
          <ul class="grid" aria-label="Pictures">
            @for (p of library.pictures(); track p.id) {
              <li><button [attr.aria-pressed]="chosen()?.id === p.id" (click)="set({ picture: p.id })" [attr.aria-label]="p.alt || p.name || 'Picture ' + p.id"><img [src]="p.ready ? p.src + '/landscape.jpg' : p.src" alt="" loading="lazy" />
                <span class="n">{{ p.name || 'picture ' + p.id }}</span><span class="f"><span>{{ p.uses ? uses1(p.uses) : 'unused' }}</span><span [class.heavy]="p.size > heavy">{{ bytes(p.size) }}</span>@if (!p.alt) { <b>no alternative text</b> }</span></button></li>
            } @empty { @if (library.pictures()) { <li class="soft none">{{ words() || tag() || use() ? 'No picture matches. Take a word or a filter away.' : 'The library is empty. Drop pictures here, or add them by the button.' }}</li> } }
          </ul>
          @if (library.next()) { <p><button class="btn" (click)="library.more()">Show more</button></p> }
        </div>
        @if (chosen(); as c) { <kr-picture [id]="c.id" (changed)="library.put($event)" (made)="found($event)" (gone)="close()" (closed)="set({ picture: '' })" /> }
      </div>
    </div>
  `,
  styles: `
    .head { margin-bottom: 10px; } .filter { margin-bottom: 12px; } .words { flex: 1; min-width: 220px; } select { width: auto; } .seg { display: inline-flex; border: 1px solid var(--line); border-radius: 4px; overflow: hidden; background: var(--field); } .seg button { border: 0; background: none; padding: 5px 11px; cursor: pointer; outline-offset: -2px; } .seg [aria-pressed='true'] { background: var(--verdigris-wash); font-weight: 650; }
    .uploads { border: 1px solid var(--line); border-radius: 4px; background: var(--sheet); padding: 9px 12px; margin-bottom: 12px; } .uploads ul { list-style: none; margin: 6px 0; padding: 0; max-height: 150px; overflow: auto; } .uploads li { display: grid; grid-template-columns: minmax(0, 1fr) minmax(120px, 2fr); gap: 10px; padding: 2px 0; overflow-wrap: anywhere; } progress { width: 100%; accent-color: var(--verdigris); } .refused { color: var(--madder); }
    .columns.two { display: grid; grid-template-columns: minmax(0, 1fr) 380px; gap: 20px; align-items: start; } .grid { list-style: none; margin: 0; padding: 0; display: grid; grid-template-columns: repeat(auto-fill, minmax(170px, 1fr)); gap: 12px; } .none { padding: 24px 0; }
    .grid button { display: grid; gap: 2px; width: 100%; border: 1px solid var(--line); border-radius: 4px; background: var(--sheet); padding: 0 0 7px; cursor: pointer; text-align: left; overflow: hidden; } .grid button:hover { border-color: var(--soft); } .grid [aria-pressed='true'] { outline: 2px solid var(--verdigris); } img { width: 100%; aspect-ratio: 1200/630; object-fit: cover; background: var(--hair); display: block; margin-bottom: 5px; }
    .n { padding: 0 9px; font-weight: 550; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; } .f { padding: 0 9px; font-size: 11.5px; color: var(--soft); display: flex; flex-wrap: wrap; gap: 0 10px; } .f b, .heavy { color: var(--brass); font-weight: 600; }
    @media (max-width: 900px) { .columns.two { grid-template-columns: 1fr; } kr-picture { order: -1; } }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PicturesPage {
  protected readonly library = inject(LibraryService);
  protected readonly session = inject(SessionService);
  private readonly router = inject(Router);
  readonly words = input<string>();
  readonly tag = input<string>();
  readonly use = input<string>();
  readonly picture = input<string>();
  protected readonly uses = USES;
  protected readonly bytes = sayBytes;
  protected readonly heavy = LEAD_WEIGHT.most;
  protected readonly uses1 = (n: number) => sayCount(n, 'use');
  protected readonly chosen = computed(() => (this.picture() ? { id: Number(this.picture()) } : null));
  protected readonly settled = computed(() => this.library.uploads().every((u) => u.state === 'kept' || u.state === 'refused'));
  protected readonly uploading = computed(() => {
    const all = this.library.uploads();
    const kept = all.filter((u) => u.state === 'kept').length;
    const refused = all.filter((u) => u.state === 'refused').length;
    return `${kept} of ${sayCount(all.length, 'picture')} kept${refused > 0 ? `, ${refused} refused` : ''}.`;
  });
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly announced = signal(0);

  constructor() {
    effect(() => {
      const query: MediaQuery = { ...(this.words() ? { words: this.words() } : {}), ...(this.tag() ? { tag: this.tag() } : {}), ...(this.use() ? { use: this.use() as MediaQuery['use'] } : {}) };
      this.announced();
      untracked(() => void this.library.find(query));
    });
    inject(Live).whenever(['media'], () => { if (this.settled()) this.announced.update((n) => n + 1); });
  }

  protected later(words: string): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.set({ words: words.trim() }), 200);
  }

  protected set(params: Record<string, string | number | undefined>): void {
    void this.router.navigate([], { queryParams: Object.fromEntries(Object.entries(params).map(([k, v]) => [k, v === '' || v === undefined ? null : v])), queryParamsHandling: 'merge' });
  }

  /** A picture that was made from another one is shown. */
  protected found(made: MediaView): void {
    void this.library.refresh();
    this.set({ picture: made.id });
  }
  protected close(): void {
    void this.library.refresh();
    this.set({ picture: '' });
  }

  protected picked(event: Event): void {
    const field = event.target as HTMLInputElement;
    void this.library.send([...(field.files ?? [])]);
    field.value = '';
  }
  protected dropped(event: DragEvent): void {
    const files = [...(event.dataTransfer?.files ?? [])];
    if (files.length === 0) return;
    event.preventDefault();
    void this.library.send(files);
  }
  protected pasted(event: ClipboardEvent): void {
    const files = [...(event.clipboardData?.files ?? [])].filter((f) => f.type.startsWith('image/'));
    if (files.length > 0) void this.library.send(files);
  }
}
