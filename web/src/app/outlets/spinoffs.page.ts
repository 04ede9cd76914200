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
import { Title } from '@angular/platform-browser';
import { Router, RouterLink } from '@angular/router';
import type { PieceView } from '@keyroster/contract';
import { formatCount } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { promptLine } from '../ui/prompt-line';
import { AddPieces } from './add-pieces';
import { Unsaved } from '../ui/unsaved';
import { PieceCard } from './piece-card';
import { PieceSheet } from './piece-sheet';
import { RolloutLine } from './rollout-line';
import { RolloutService } from './rollout.service';
import { formatDue } from './format-piece';
import { SourceText } from './source-text';
import { ErrorLine } from '../ui/error-line';
import { facts } from '../ui/facts';
import { EmptyState } from '../ui/empty-state';

/** A post beside what is made of it for other places, and when that goes out. */
@Component({
  imports: [
    MatButton,
    RouterLink,
    MatMenuModule,
    SourceText,
    PieceCard,
    PieceSheet,
    RolloutLine,
    ErrorLine,
    EmptyState,
  ],
  providers: [RolloutService],
  templateUrl: './spinoffs.page.html',
  styleUrl: './spinoffs.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(keydown.escape)': 'open(null)' },
})
export class SpinoffsPage {
  protected readonly rollout = inject(RolloutService);
  private readonly session = inject(SessionService);
  private readonly unsaved = inject(Unsaved);
  private readonly router = inject(Router);
  private readonly dialogs = inject(MatDialog);
  private readonly title = inject(Title);
  readonly id = input.required<string>();
  readonly piece = input<string>();
  protected readonly said = signal('');
  /** Sentences that a person shaded for the open piece; null while they are the piece's own. */
  protected readonly own = signal<ReadonlySet<number> | null>(null);
  protected readonly opened = computed(
    () => this.rollout.pieces().find((p) => p.id === Number(this.piece())) ?? null,
  );
  protected readonly choosing = computed(() => {
    const p = this.opened();
    return (
      p !== null &&
      this.rollout.view()!.mayMake &&
      !['sent', 'sending', 'unsure'].includes(p.send?.state ?? '')
    );
  });
  protected readonly shaded = computed<ReadonlySet<number>>(() => {
    const p = this.opened();
    if (!p) return new Set(this.rollout.pieces().flatMap((x) => x.usedNow));
    return this.own() ?? new Set(p.usedNow);
  });
  protected readonly changed = computed(() => {
    const p = this.opened();
    const own = this.own();
    return (
      p !== null && own !== null && [...own].sort((a, b) => a - b).join() !== p.usedNow.join() && own.size > 0
    );
  });
  private readonly shownVersion = computed(() => `${this.piece() ?? ''} ${this.opened()?.version ?? ''}`);
  protected readonly blog = computed(() => this.session.blog()?.title ?? '');
  protected readonly count = (n: number) => formatCount(n, 'piece');
  protected readonly sentences = (n: number) => formatCount(n, 'sentence');
  protected readonly by = computed(() => {
    const { post } = this.rollout.view()!;
    return facts(
      post.byline?.name ?? 'nobody yet',
      `version ${post.version}`,
      `${post.words.toLocaleString('en-GB')} words`,
      post.releaseLocal
        ? `${post.stage === 'published' ? 'released' : 'to be released'} ${formatDue(post.releaseLocal, this.session.today())}`
        : post.stage,
    );
  });

  constructor() {
    effect(() => {
      const id = Number(this.id());
      untracked(() => void this.rollout.open(id));
    });
    effect(() => {
      const v = this.rollout.view();
      if (v) this.title.setTitle(`Spin-offs of ${v.post.title} · Key Roster`);
    });
    // Another piece, or another version of it: its own shades.
    effect(() => {
      this.shownVersion();
      untracked(() => {
        this.own.set(null);
        this.rollout.waiting.set(null);
      });
    });
  }

  protected toggle(at: number): void {
    const next = new Set(this.shaded());
    if (!next.delete(at)) next.add(at);
    this.own.set(next);
  }

  protected async open(p: PieceView | null): Promise<void> {
    if (!(await this.unsaved.mayLeave())) return;
    void this.router.navigate([], { queryParams: { piece: p?.id ?? null }, queryParamsHandling: 'merge' });
  }

  protected async rebuildShaded(): Promise<void> {
    await this.rollout.rebuild(this.opened()!, { only: [...this.shaded()] });
  }

  protected async rebuild(p: PieceView): Promise<void> {
    // A piece with a person's words is opened, where it is asked first.
    if ((await this.rollout.rebuild(p, {})) === 'edited') this.open(p);
  }

  protected add(): void {
    this.dialogs.open(AddPieces, {
      data: this.rollout,
      width: '720px',
      maxWidth: '96vw',
      maxHeight: '94vh',
      ariaLabel: 'Add pieces',
    });
  }

  protected async approve(): Promise<void> {
    const staying = await this.rollout.approveAll();
    if (!staying) return;
    const names = staying.map(({ pieceId, sentence }) => {
      const piece = this.rollout.pieces().find((p) => p.id === pieceId);
      return piece ? `${piece.kind} for ${piece.outlet} (${sentence.replace(/\.$/, '')})` : sentence;
    });
    this.said.set(
      names.length === 0
        ? 'All pieces go out when they are due.'
        : `${formatCount(names.length, 'piece')} cannot go yet: ${names.join(', ')}.`,
    );
  }

  protected async savePattern(): Promise<void> {
    const name = await promptLine(this.dialogs, {
      about: 'Save this rollout as a pattern',
      label: 'Name of the pattern',
      value: '',
      max: 80,
      done: 'Save',
      hint: 'Kinds, outlets, instructions and times that follow the release are kept.',
    });
    if (name) await this.rollout.saveAsPattern(name, null, null);
  }
}
