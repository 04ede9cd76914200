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
import { MatDialog } from '@angular/material/dialog';
import { MatMenuModule } from '@angular/material/menu';
import { MatRadioButton } from '@angular/material/radio';
import { Title } from '@angular/platform-browser';
import { Router } from '@angular/router';
import type { VersionView } from '@keyroster/contract';
import { formatClock, formatCount, formatList, formatShortDate, type ComparedBlock } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { promptLine } from '../ui/prompt-line';
import { ErrorLine } from '../ui/error-line';
import { SwitchField } from '../ui/fields';
import { PageHead } from '../ui/page-head';
import { SectionHead } from '../ui/section-head';
import { Comparing } from './comparing';
import { ComparedDetails } from './compared-details';
import { ComparedText } from './compared-text';
import { VersionsService } from './versions.service';

const LOOKS = ['In one', 'Side by side'] as const;

/** What a post was at any time, what changed between two times, and the way back. */
@Component({
  imports: [
    ComparedDetails,
    ComparedText,
    ErrorLine,
    MatButton,
    MatMenuModule,
    MatRadioButton,
    PageHead,
    SectionHead,
    SwitchField,
  ],
  providers: [Comparing, VersionsService],
  templateUrl: './versions.page.html',
  styleUrl: './versions.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class VersionsPage {
  protected readonly versions = inject(VersionsService);
  private readonly session = inject(SessionService);
  private readonly router = inject(Router);
  private readonly dialogs = inject(MatDialog);
  readonly id = input.required<string>();
  readonly from = input<string>();
  readonly to = input<string>();
  protected readonly looks = LOOKS;
  protected readonly look = signal<(typeof LOOKS)[number]>('In one');
  protected readonly mayWrite = computed(() => this.versions.post()?.rights.write ?? false);
  protected readonly newest = computed(() => this.versions.versions()[0]?.version ?? 0);
  /** Which two are compared: those of the address, else the newest with the one before. */
  protected readonly pair = computed(() => {
    const to = Number(this.to()) || this.newest();
    return { from: Number(this.from()) || Math.max(1, to - 1), to };
  });
  protected readonly textChanges = computed(
    () => (this.versions.blocks() ?? []).filter((b) => b.kind !== 'same').length,
  );

  constructor() {
    const title = inject(Title);
    effect(() => {
      const id = Number(this.id());
      untracked(() => void this.versions.open(id));
    });
    // Compared again when others are chosen, or when the current one changes.
    const wanted = computed(() => (this.newest() > 0 ? { ...this.pair(), newest: this.newest() } : null), {
      equal: (a, b) => JSON.stringify(a) === JSON.stringify(b),
    });
    effect(() => {
      const pair = wanted();
      if (pair) untracked(() => this.versions.show(pair.from, pair.to));
    });
    effect(() => title.setTitle(`Versions of ${this.versions.post()?.title ?? 'a post'} · Key Roster`));
  }

  protected when(at: string): string {
    const local = this.session.local(at);
    return `${formatShortDate(local, this.session.today())}, ${formatClock(local.slice(0, 16))}`;
  }

  protected what(v: VersionView): string {
    if (v.restored !== null) return `restored version ${v.restored}`;
    if (v.version === 1) return v.imported ? `began it with ${v.imported}` : 'began it';
    if (v.imported) return `brought in ${v.imported}`;
    if (v.updated) return 'published';
    if (v.moved) return v.changed.length > 1 ? `${v.stage}; ${formatList(v.changed)}` : v.stage;
    return formatList(v.changed) || 'small things';
  }

  protected choose(from: number, to: number): void {
    const [earlier, later] = from <= to ? [from, to] : [to, from];
    void this.router.navigate([], { queryParams: { from: earlier, to: later } });
  }

  protected async rename(v: VersionView): Promise<void> {
    const name = await promptLine(this.dialogs, {
      about: `A name for version ${v.version}`,
      label: 'Name',
      value: v.name,
      max: 80,
      done: 'Save',
    });
    if (name) await this.versions.name(v.version, name);
  }

  protected async restore(version: number, what: 'all' | 'text'): Promise<void> {
    if (await this.versions.restore({ version, what })) this.choose(version, this.newest());
  }

  /** A block as it was, in the text as it stands. */
  protected async restorePassage(block: ComparedBlock): Promise<void> {
    const { from } = this.pair();
    const blocks = this.versions.blocks()!;
    const before = blocks.slice(0, blocks.indexOf(block)).findLast((b) => b.after !== null);
    const at = block.after ?? (before ? before.after! + 1 : 0);
    const passage = {
      before: { from: block.before ?? 0, to: block.before === null ? 0 : block.before + 1 },
      after: { from: at, to: block.after === null ? at : at + 1 },
    };
    if (await this.versions.restore({ version: from, what: 'passage', passage }))
      this.choose(from, this.newest());
  }

  protected readonly count = formatCount;
}
