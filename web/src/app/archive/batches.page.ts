import { ChangeDetectionStrategy, Component, computed, effect, inject, input, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import type { BatchView } from '@keyroster/contract';
import { sayClock, sayCount, sayShortDate, wallTimeOf } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { ArchiveService } from './archive.service';
import { BatchItems } from './batch-items';
import { BatchLogItems } from './batch-log-items.service';
import { BatchService } from './batch.service';

/** Every batch: who changed what in how many posts, and when; any of them can be taken back. */
@Component({
  imports: [RouterLink, BatchItems],
  providers: [ArchiveService, BatchService, BatchLogItems],
  template: `
    <div class="screen">
      <div class="row spread"><h1>Batches</h1><a class="btn" routerLink="/archive">Archive</a></div>
      <p class="soft lead">What was changed in many posts at once, newest first. Taking one back shows first what that does; what others changed since is kept unless you say otherwise.</p>
      @if (batch.fault()) { <p class="fault" role="alert">{{ batch.fault() }}</p> }
      @if (batch.done()) { <p class="done" role="status">{{ batch.done() }}</p> }
      @if (batch.running(); as r) { <p role="status">{{ r.sentence }} … {{ r.done }} of {{ r.counts.changes }}</p> }
      @if (batch.preview(); as p) {
        <section class="preview" aria-label="Before it is written"><h2>{{ p.sentence }}</h2><p class="soft">{{ p.counts.changes }} will change · {{ p.counts.same }} nothing to do · {{ p.counts.refused }} refused</p>
          <kr-batch-items [items]="batch.items()" [total]="total(p)" [choosable]="true" (state)="batch.choose($event.postId, $event.state)" (more)="batch.more()" />
          <div class="row"><button class="btn act" [disabled]="p.counts.changes === 0" (click)="batch.apply()">{{ p.sentence.startsWith('Done again') ? 'Do it again in ' : 'Take back in ' }}{{ count(p.counts.changes) }}</button>@if (hasSince() && p.takesBack) { <button class="btn" (click)="batch.takeBack(p.takesBack, true)">Also what was changed since</button> }<button class="btn" (click)="batch.dismiss()">Not that</button></div></section>
      }
      <table>
        <caption class="unseen">Batches, newest first</caption>
        <thead><tr><th scope="col">Change</th><th scope="col">Posts</th><th scope="col">By</th><th scope="col">When</th><th scope="col"><span class="unseen">Actions</span></th></tr></thead>
        <tbody>
          @for (b of batch.log(); track b.id) {
            <tr [class.gone]="b.takenBackBy || b.state === 'failed'"><td>{{ b.sentence }}@if (b.fault) { <small class="refused">{{ b.fault }}</small> } @if (b.takenBackBy) { <small>taken back</small> }</td><td class="n">{{ b.counts.changes.toLocaleString('en-GB') }}</td><td>{{ b.by.name }}</td><td>{{ b.state === 'waiting' ? 'being written' : when(b) }}</td>
              <td class="row"><button class="btn small" [attr.aria-expanded]="shown() === b.id" (click)="go(shown() === b.id ? null : b.id)">{{ shown() === b.id ? 'Hide' : 'Look' }}</button>@if (b.state === 'applied') { <button class="btn small" (click)="batch.takeBack(b.takenBackBy ?? b.id)">{{ b.takenBackBy ? 'Do again' : 'Take back' }}</button><a class="btn small" routerLink="/archive" [queryParams]="{ line: 'batch:' + b.id }">Its posts</a> }</td></tr>
            @if (shown() === b.id) { <tr><td colspan="5"><kr-batch-items [items]="looked.items()" [total]="total(b)" (more)="looked.more(b.id)" /></td></tr> }
          } @empty { <tr><td colspan="5" class="soft">No batch yet. Choose posts in the archive and change them together.</td></tr> }
        </tbody>
      </table>
    </div>
  `,
  styles: `.lead { margin: 4px 0 12px; } .done { background: var(--verdigris-wash); border-radius: 4px; padding: 7px 10px; margin-bottom: 10px; font-weight: 550; } .preview { border: 1px solid var(--ink); border-radius: 4px; background: var(--sheet); padding: 12px 16px; margin-bottom: 14px; } table { width: 100%; border-collapse: collapse; background: var(--sheet); border: 1px solid var(--line); } th { text-align: left; font-weight: 600; color: var(--soft); border-bottom: 2px solid var(--ink); padding: 7px 10px; } td { padding: 7px 10px; border-bottom: 1px solid var(--hair); vertical-align: top; overflow-wrap: anywhere; } td.row { justify-content: flex-end; border-bottom: 0; } .n { text-align: right; } small { display: block; color: var(--soft); } .gone td:first-child { color: var(--soft); } .refused { color: var(--madder); }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BatchesPage {
  protected readonly batch = inject(BatchService);
  protected readonly looked = inject(BatchLogItems);
  private readonly session = inject(SessionService);
  private readonly router = inject(Router);
  readonly look = input<string>();
  protected readonly shown = computed(() => Number(this.look() ?? 0));
  protected readonly count = (n: number) => sayCount(n, 'post');
  protected readonly hasSince = computed(() => this.batch.items().some((i) => i.sentence.endsWith('changed since and kept')));
  protected readonly total = ({ counts }: BatchView) => counts.changes + counts.same + counts.refused + counts.left;

  constructor() {
    effect(() => { const id = this.shown(); untracked(() => void this.looked.open(id)); });
  }

  protected go(look: number | null): void {
    void this.router.navigate([], { queryParams: { look } });
  }

  protected when(b: BatchView): string {
    const at = wallTimeOf(b.appliedAt ?? b.madeAt, this.session.blog()?.zone ?? 'UTC');
    return `${sayShortDate(at, new Date().toISOString())} ${sayClock(at.slice(0, 16) + ':00')}`;
  }
}
