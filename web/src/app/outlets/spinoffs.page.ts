import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { MatMenuModule } from '@angular/material/menu';
import { Title } from '@angular/platform-browser';
import { Router, RouterLink } from '@angular/router';
import type { PieceView } from '@keyroster/contract';
import { sayCount } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { askLine } from '../ui/ask-line';
import { AddPieces } from './add-pieces';
import { PieceCard } from './piece-card';
import { PieceSheet } from './piece-sheet';
import { RolloutLine } from './rollout-line';
import { isBehind, RolloutService } from './rollout.service';
import { sayDue } from './say-piece';
import { SourceText } from './source-text';

/** A post beside what is made of it for other places, and when that goes out. */
@Component({
  imports: [RouterLink, MatMenuModule, SourceText, PieceCard, PieceSheet, RolloutLine],
  providers: [RolloutService],
  template: `
    @if (rollout.view(); as v) {
      <div class="main">
        <aside class="src" aria-label="The post">
          <h1>{{ v.post.title }}</h1>
          <p class="by">{{ by() }}</p>
          <kr-source-text [sentences]="v.sentences" [shaded]="shaded()" [choosable]="choosing()" (toggled)="toggle($event)" />
          @if (v.sentences.length > 0) { <p class="soft hint">{{ choosing() ? 'Shaded lines are what this piece is built from. Press a line to shade it or to take the shade away.' : 'Shaded lines are what the pieces were built from. Open a piece to shade others.' }}</p> }
          @if (changed()) { <div class="row again"><button class="btn small act" [disabled]="rollout.busy()" (click)="rebuildShaded()">Rebuild from {{ sentences(shaded().size) }}</button><button class="btn small" (click)="own.set(null)">Not that</button></div> }
        </aside>
        <div class="r">
          <div class="bar"><h2>Spin-offs</h2>@if (v.pieces.length > 0) { <span class="chip">{{ count(v.pieces.length) }}</span> } @if (rollout.behind(); as n) { <span class="chip stale">{{ n }} behind the post</span> }
            <span class="grow"></span><a class="btn" [routerLink]="['/posts', v.post.id]">The post</a>
            @if (v.mayMake) { <button class="btn" [matMenuTriggerFor]="patterns">Pattern ▾</button> <button class="btn" [class.act]="v.pieces.length === 0" (click)="add()">Add pieces</button> }
            @if (v.maySend && v.pieces.length > 0) { @if (rollout.drafts() > 0) { <button class="btn act" [disabled]="rollout.busy()" (click)="approve()">Approve rollout</button> } @else { <button class="btn" [disabled]="rollout.busy()" (click)="rollout.approveAll(false)">Hold what has not gone</button> } }</div>
          <mat-menu #patterns="matMenu">@for (p of v.patterns; track p.id) { <button mat-menu-item (click)="rollout.usePattern(p.id)">{{ p.name }} <small class="soft">{{ p.stops.length }} pieces</small></button> } @empty { <button mat-menu-item disabled>No pattern is kept yet</button> }
            @if (v.maySend && v.pieces.length > 0) { <button mat-menu-item (click)="keepPattern()">Keep this rollout as a pattern …</button> }<a mat-menu-item routerLink="/outlets/patterns">All patterns</a></mat-menu>
          @if (rollout.fault()) { <p class="fault" role="alert">{{ rollout.fault() }}</p> }
          @if (said()) { <p class="remark" role="status">{{ said() }}</p> }
          @if (opened(); as p) { <kr-piece-sheet [piece]="p" [blog]="blog()" (closed)="open(null)" /> }
          @else if (v.pieces.length === 0) { <div class="none"><p>Nothing is made of this post yet.</p><p class="soft">Choose a short post, a card with a telling line, an item for the letter. Each is put together from the post’s own sentences, for the outlet it goes to, and knows the version it was made from.</p></div> }
          @else { <div class="pieces">@for (p of v.pieces; track p.id) { <kr-piece-card [piece]="p" [outlet]="rollout.outlet(p.outletId)" (opened)="open(p)" (rebuilt)="rebuild(p)" /> }</div> }
          @if (v.pieces.length > 0) { <kr-rollout-line [view]="v" (opened)="open($event)" (moved)="rollout.move($event.piece, $event.timing)" (spread)="rollout.spread()" /> }
        </div>
      </div>
    } @else if (rollout.fault()) { <div class="screen"><p class="fault" role="alert">{{ rollout.fault() }}</p></div> }
  `,
  styles: `
    .main { display: grid; grid-template-columns: 352px minmax(0, 1fr); min-height: calc(100vh - 116px); } .src { border-right: 1px solid var(--line); padding: 14px 18px 40px 20px; background: var(--sheet); position: relative; } .src h1 { font-size: 23px; } .by { color: var(--soft); font-size: 12px; margin: 5px 0 10px; } .hint { margin-top: 12px; } .again { position: sticky; bottom: 0; background: var(--sheet); padding: 8px 0; }
    .r { padding: 12px 20px 40px 16px; min-width: 0; } .bar { display: flex; gap: 8px; align-items: center; margin-bottom: 10px; flex-wrap: wrap; } .bar h2 { font-size: 20px; margin-right: 8px; } .grow { flex: 1; } .chip { background: var(--hair); border-radius: 3px; padding: 2px 8px; font-size: 12px; } .chip.stale { background: var(--brass-wash); color: var(--brass); font-weight: 600; }
    .pieces { display: grid; grid-template-columns: repeat(auto-fill, minmax(260px, 1fr)); gap: 10px; margin-bottom: 12px; } kr-piece-sheet { display: block; margin-bottom: 12px; } .none { border: 1px dashed var(--line); border-radius: 4px; padding: 28px; text-align: center; max-width: 620px; margin: 30px auto; } .none p + p { margin-top: 6px; }
    @media (max-width: 900px) { .main { grid-template-columns: minmax(0, 1fr); } .src { border-right: 0; border-bottom: 1px solid var(--line); max-height: 44vh; overflow: auto; padding-bottom: 14px; } .r { padding: 12px 14px 40px; } }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(keydown.escape)': 'open(null)' },
})
export class SpinoffsPage {
  protected readonly rollout = inject(RolloutService);
  private readonly session = inject(SessionService);
  private readonly router = inject(Router);
  private readonly dialogs = inject(MatDialog);
  private readonly title = inject(Title);
  readonly id = input.required<string>();
  readonly piece = input<string>();
  protected readonly said = signal('');
  /** Sentences that a person shaded for the open piece; null while they are the piece's own. */
  protected readonly own = signal<ReadonlySet<number> | null>(null);
  protected readonly opened = computed(() => this.rollout.pieces().find((p) => p.id === Number(this.piece())) ?? null);
  protected readonly choosing = computed(() => { const p = this.opened(); return p !== null && this.rollout.view()!.mayMake && !['sent', 'sending', 'unsure'].includes(p.send?.state ?? ''); });
  protected readonly shaded = computed<ReadonlySet<number>>(() => {
    const p = this.opened();
    if (!p) return new Set(this.rollout.pieces().flatMap((x) => x.standing));
    return this.own() ?? new Set(p.standing);
  });
  protected readonly changed = computed(() => { const p = this.opened(); const own = this.own(); return p !== null && own !== null && [...own].sort((a, b) => a - b).join() !== p.standing.join() && own.size > 0; });
  private readonly shownVersion = computed(() => `${this.piece() ?? ''} ${this.opened()?.version ?? ''}`);
  protected readonly blog = computed(() => this.session.blog()?.title ?? '');
  protected readonly count = (n: number) => sayCount(n, 'piece');
  protected readonly sentences = (n: number) => sayCount(n, 'sentence');
  protected readonly by = computed(() => { const { post } = this.rollout.view()!; return [post.byline?.name ?? 'nobody yet', `version ${post.version}`, `${post.words.toLocaleString('en-GB')} words`, post.releaseLocal ? `${post.stage === 'published' ? 'released' : 'to be released'} ${sayDue(post.releaseLocal)}` : post.stage].join(' · '); });

  constructor() {
    effect(() => { const id = Number(this.id()); untracked(() => void this.rollout.open(id)); });
    effect(() => { const v = this.rollout.view(); if (v) this.title.setTitle(`Spin-offs of ${v.post.title} · Key Roster`); });
    // Another piece, or another version of it: its own shades.
    effect(() => { this.shownVersion(); untracked(() => { this.own.set(null); this.rollout.waiting.set(null); }); });
  }

  protected toggle(at: number): void {
    const next = new Set(this.shaded());
    if (!next.delete(at)) next.add(at);
    this.own.set(next);
  }

  protected open(p: PieceView | null): void {
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
    this.dialogs.open(AddPieces, { data: this.rollout, width: '720px', maxWidth: '96vw', maxHeight: '94vh', ariaLabel: 'Add pieces' });
  }

  protected async approve(): Promise<void> {
    if (!(await this.rollout.approveAll(true))) return;
    const left = this.rollout.drafts();
    this.said.set(left === 0 ? 'All pieces go out when they are due.' : `${sayCount(left, 'piece')} cannot go yet: ${this.rollout.pieces().filter((p) => p.send === null || p.send.state === 'stopped').map((p) => `${p.kind} for ${p.outlet}${isBehind(p) ? ' (behind the post)' : p.faults.find((f) => f.blocks) ? ` (${p.faults.find((f) => f.blocks)!.sentence.replace(/\.$/, '')})` : ''}`).join(', ')}.`);
  }

  protected async keepPattern(): Promise<void> {
    const name = await askLine(this.dialogs, { about: 'Keep this rollout as a pattern', label: 'Name of the pattern', value: '', most: 80, done: 'Keep it', hint: 'Kinds, outlets, instructions and times that follow the release are kept.' });
    if (name) await this.rollout.keepAsPattern(name, null, null);
  }
}
