import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { Router } from '@angular/router';
import { FileButton } from '../ui/file-button';
import type { MediaView, MediaQuery } from '@keyroster/contract';
import { LEAD_WEIGHT, formatBytes, formatCount } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Live } from '../api/live';
import { TextField, ChoiceField, SwitchField, Choice } from '../ui/fields';
import { LibraryService } from './library.service';
import { PictureSheet } from './picture-sheet';
import { ErrorLine } from '../ui/error-line';
import { PageHead } from '../ui/page-head';
import { later } from '../ui/later';
import { MatProgressBar } from '@angular/material/progress-bar';
import { AtRoot } from '../api/root';

/** Nothing is looked for while words are still being typed. */
const TYPING_MS = 200;
const USES: Choice<NonNullable<MediaQuery['use']>>[] = [
  { value: 'all', label: 'All' },
  { value: 'used', label: 'Used' },
  { value: 'unused', label: 'Unused' },
  { value: 'binned', label: 'Bin' },
];

/** The library: many files at once, found again by words, tag and use, and described beside. */
@Component({
  imports: [
    AtRoot,
    FileButton,
    MatButton,
    PictureSheet,
    TextField,
    ErrorLine,
    ChoiceField,
    SwitchField,
    PageHead,
    MatProgressBar,
  ],
  providers: [LibraryService],
  templateUrl: './pictures.page.html',
  styleUrl: './pictures.page.scss',
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
  protected readonly bytes = formatBytes;
  protected readonly heavy = LEAD_WEIGHT.max;
  protected readonly uses1 = (n: number) => formatCount(n, 'use');
  protected readonly chosen = computed(() => (this.picture() ? { id: Number(this.picture()) } : null));
  protected readonly settled = computed(() =>
    this.library.uploads().every((u) => u.state === 'kept' || u.state === 'refused'),
  );
  protected readonly uploading = computed(() => {
    const all = this.library.uploads();
    const kept = all.filter((u) => u.state === 'kept').length;
    const refused = all.filter((u) => u.state === 'refused').length;
    return `${kept} of ${formatCount(all.length, 'picture')} kept${refused > 0 ? `, ${refused} refused` : ''}.`;
  });
  private readonly announced = signal(0);

  constructor() {
    effect(() => {
      const query: MediaQuery = {
        ...(this.words() ? { words: this.words() } : {}),
        ...(this.tag() ? { tag: this.tag() } : {}),
        ...(this.use() ? { use: this.use() as MediaQuery['use'] } : {}),
      };
      this.announced();
      untracked(() => void this.library.find(query));
    });
    inject(Live).whenever(['media'], () => {
      if (this.settled()) this.announced.update((n) => n + 1);
    });
  }

  protected readonly later = later(TYPING_MS, (words: string) => this.set({ words: words.trim() }));

  protected set(params: Record<string, string | number | undefined>): void {
    void this.router.navigate([], {
      queryParams: Object.fromEntries(
        Object.entries(params).map(([k, v]) => [k, v === '' || v === undefined ? null : v]),
      ),
      queryParamsHandling: 'merge',
    });
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

  protected send(files: File[]): void {
    void this.library.send(files);
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
