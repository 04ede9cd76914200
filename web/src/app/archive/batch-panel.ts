import { ChangeDetectionStrategy, Component, computed, effect, inject, output, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { BatchView } from '@keyroster/contract';
import { sayCount, sayDistance } from '@keyroster/core';
import { BatchItems } from './batch-items';
import { BatchService } from './batch.service';
import { ChangeForm } from './change-form';
import { ChosenService } from './chosen.service';

const QUIET_MS = 350;
const EARLIER = 4;

/** What to change in the chosen posts: put together, seen before it is written, applied as a whole; and the batches before. */
@Component({
  selector: 'kr-batch',
  imports: [ChangeForm, BatchItems, RouterLink],
  template: `
    <h2>{{ heading() }}</h2>
    <p class="soft lead">Nothing is written until you apply. Every batch can be taken back later.</p>
    @if (batch.fault()) { <p class="fault" role="alert">{{ batch.fault() }}</p> }
    @if (batch.done()) { <p class="done" role="status">{{ batch.done() }}</p> }
    @if (batch.running(); as r) {
      <div class="running" role="status"><p><b>{{ r.sentence }}</b></p><progress [value]="r.done" [max]="r.counts.changes" [attr.aria-label]="'Written so far'"></progress><p class="soft">{{ r.done }} of {{ r.counts.changes }} posts. It goes on when this page is closed.</p></div>
    } @else {
      @if (batch.preview()?.takesBack === null || !batch.preview()) {
        <ul class="changes" aria-label="Changes">@for (s of batch.sentences(); track $index; let i = $index) { <li><span>{{ s }}</span><button type="button" (click)="batch.take(i)" [attr.aria-label]="'Take away: ' + s">✕</button></li> }</ul>
        @if (chosen.count() > 0) { <kr-change-form (added)="batch.add($event)" /> } @else { <p class="soft">Choose posts in the table: with the boxes, with Space, or all that match with Ctrl A.</p> }
      }
      @if (batch.preview(); as p) {
        <div class="preview" aria-live="polite">
          <p class="counts">{{ counts(p) }}</p>
          @if (p.takesBack !== null) { <p><b>{{ p.sentence }}</b></p> }
          <kr-batch-items [items]="batch.items()" [total]="p.counts.changes + p.counts.same + p.counts.refused + p.counts.left" [choosable]="true" (state)="batch.choose($event.postId, $event.state)" (more)="batch.more()" />
          @if (p.takesBack !== null && hasSince()) { <button class="btn small" (click)="batch.takeBack(p.takesBack, true)">Take back what was changed since, too</button> }
          @if (p.open.length > 0) { <p class="open">{{ opened(p.open) }} open on a desk. They change too, and whoever has them open is told.</p> }
          <div class="row ends"><button class="btn act" [disabled]="p.counts.changes === 0" (click)="batch.apply()">{{ p.takesBack === null ? 'Apply to ' : 'Take back in ' }}{{ count(p.counts.changes) }}</button><button class="btn" (click)="batch.dismiss()">Not that</button></div>
        </div>
      } @else if (batch.looking()) { <p class="soft" role="status">Looking at {{ count(chosen.count()) }} …</p> }
    }
    <div class="earlier"><div class="row spread"><h3>Earlier batches</h3><a routerLink="/archive/batches">All of them</a></div>
      <ul>@for (b of batch.log().slice(0, most); track b.id) { <li><span>{{ b.sentence }} <small>{{ count(b.counts.changes) }}, {{ b.by.name }}, {{ ago(b) }}{{ b.takenBackBy ? ', taken back' : b.state === 'failed' ? ', not applied' : '' }}</small></span>
        @if (b.state === 'applied') { <button class="link" (click)="batch.takeBack(b.takenBackBy ?? b.id)" [attr.aria-label]="(b.takenBackBy ? 'Do again: ' : 'Take back: ') + b.sentence">{{ b.takenBackBy ? 'Do again' : 'Take back' }}</button> }</li> } @empty { <li class="soft">None yet.</li> }</ul></div>
    <p><button class="btn small" (click)="closed.emit()">Close</button></p>
  `,
  styles: `
    :host { display: block; } .lead { margin: 3px 0 10px; } .done { background: var(--verdigris-wash); border-radius: 4px; padding: 7px 10px; margin-bottom: 10px; font-weight: 550; } .changes { list-style: none; margin: 0; padding: 0; } .changes li { display: flex; justify-content: space-between; gap: 8px; border: 1px solid var(--line); border-radius: 4px; background: var(--field); padding: 7px 4px 7px 10px; margin-bottom: 7px; overflow-wrap: anywhere; } .changes button { border: 0; background: none; cursor: pointer; color: var(--soft); min-width: 28px; }
    .counts { border-block: 1px solid var(--line); padding: 7px 0; color: var(--soft); } .open { background: var(--brass-wash); border: 1px solid var(--brass); border-radius: 4px; padding: 8px 10px; color: var(--brass); margin: 9px 0; } .ends { margin: 10px 0; } .running progress { width: 100%; accent-color: var(--verdigris); margin: 6px 0; }
    .earlier { border-top: 1px solid var(--line); margin-top: 14px; padding-top: 10px; } .earlier ul { list-style: none; margin: 6px 0 10px; padding: 0; } .earlier li { display: flex; justify-content: space-between; gap: 10px; padding: 6px 0; border-bottom: 1px solid var(--hair); overflow-wrap: anywhere; } small { display: block; color: var(--soft); } .link { border: 0; background: none; color: var(--verdigris); font-weight: 650; cursor: pointer; white-space: nowrap; padding: 0 2px; } .link:hover { text-decoration: underline; }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BatchPanel {
  protected readonly batch = inject(BatchService);
  protected readonly chosen = inject(ChosenService);
  readonly closed = output();
  protected readonly most = EARLIER;
  protected readonly count = (n: number) => sayCount(n, 'post');
  protected readonly heading = computed(() => (this.batch.preview()?.takesBack !== null && this.batch.preview() ? 'Take back' : this.chosen.count() === 0 ? 'Change many posts' : `Change ${sayCount(this.chosen.count(), 'post')}`));
  protected readonly hasSince = computed(() => this.batch.items().some((i) => i.sentence.endsWith('changed since and kept')));

  constructor() {
    effect((cleanup) => {
      const ids = this.chosen.ids();
      this.batch.changes();
      if (untracked(() => (this.batch.preview()?.takesBack ?? null) !== null) && this.batch.changes().length === 0) return;
      const timer = setTimeout(() => void this.batch.look(ids), QUIET_MS);
      cleanup(() => clearTimeout(timer));
    });
  }

  protected counts({ counts }: BatchView): string {
    return [`${counts.changes.toLocaleString('en-GB')} will change`, `${counts.same} already so`, `${counts.refused} refused`, ...(counts.left > 0 ? [`${counts.left} left out`] : [])].join(' · ');
  }
  protected opened(open: readonly { name: string; posts: number }[]): string {
    const posts = open.reduce((sum, o) => sum + o.posts, 0);
    const names = open.map((o) => o.name);
    return `${names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${names.at(-1)} have` : `${names[0]} has`} ${posts === 1 ? 'one of these posts' : `${posts} of these posts`}`;
  }
  protected ago(batch: BatchView): string {
    return sayDistance((batch.appliedAt ?? batch.madeAt).slice(0, 10), new Date().toISOString().slice(0, 10));
  }
}
