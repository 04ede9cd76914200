import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import type { PlannerCard } from '@keyroster/contract';
import { lacks, sayClock, sayDate } from '@keyroster/core';
import { BittingMark } from '../ui/bitting-mark';
import { CategoryTab } from '../ui/category-tab';
import { PlannerService } from './planner.service';

/** The dated posts in order of run time, with what each still lacks and what is wrong with its date. */
@Component({
  selector: 'kr-run-list',
  imports: [BittingMark, CategoryTab],
  template: `
    <table>
      <caption class="unseen">Posts in order of run time</caption>
      <thead><tr><th scope="col">Runs</th><th scope="col">Post</th><th scope="col">Writer</th><th scope="col">Stage</th><th scope="col">Still lacks</th></tr></thead>
      <tbody>
        @for (row of rows(); track row.post.id) {
          <tr [class.late]="row.post.late"><td>@if (row.first) { <b>{{ row.day }}</b> } <span>{{ row.clock }}</span></td>
            <td><button (click)="opened.emit(row.post)" (keydown)="keyed.emit({ event: $event, post: row.post })" [attr.data-card]="row.post.id">{{ row.post.title }}</button><kr-category [id]="row.post.categoryId" /></td>
            <td>{{ row.post.byline?.name ?? '' }}</td><td><kr-mark [stage]="row.post.stage" [late]="row.post.late" /> {{ row.post.stage }}</td>
            <td>{{ row.lacks || 'nothing' }}@for (w of row.warnings; track w.kind) { <p>{{ w.sentence }}</p> }</td></tr>
        }
      </tbody>
    </table>
    @if (more() > 0) { <button class="btn" (click)="most.set(most() + step)">Show {{ more() < step ? 'the last ' + more() : 'the next ' + step }} of {{ planner.shown().length }}</button> }
    @if (rows().length === 0) { <p class="soft none">Nothing has a run time in these weeks.</p> }
  `,
  styles: `
    table { width: 100%; border-collapse: collapse; background: var(--sheet); border: 1px solid var(--line); } th { text-align: left; font-weight: 600; color: var(--soft); border-bottom: 2px solid var(--ink); padding: 7px 10px; } td { padding: 6px 10px; border-bottom: 1px solid var(--hair); vertical-align: top; }
    td:first-child { white-space: nowrap; } td b { display: block; font: 560 14px var(--serif); } button { border: 0; background: none; padding: 0; font: 540 15px/1.25 var(--serif); text-align: left; cursor: pointer; display: block; } button:hover { text-decoration: underline; } kr-category { font-size: 11.5px; color: var(--soft); }
    .late td:first-child { border-left: 3px solid var(--madder); } p { color: var(--brass); margin-top: 2px; } kr-mark { margin-right: 5px; } .none { padding: 16px 0; }
    @media (max-width: 700px) { th:nth-child(3), td:nth-child(3), th:nth-child(4), td:nth-child(4) { display: none; } }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RunList {
  protected readonly planner = inject(PlannerService);
  /** Rows that are drawn; a list of thousands is read from its beginning. */
  protected readonly step = 200;
  protected readonly most = signal(this.step);
  protected readonly more = computed(() => Math.max(0, this.planner.shown().length - this.most()));
  readonly opened = output<PlannerCard>();
  readonly keyed = output<{ event: KeyboardEvent; post: PlannerCard }>();
  protected readonly rows = computed(() => {
    const today = this.planner.view()?.today;
    return this.planner.shown().slice(0, this.most()).map((post, i, all) => ({
      post, first: i === 0 || all[i - 1]!.runLocal!.slice(0, 10) !== post.runLocal!.slice(0, 10), day: sayDate(post.runLocal!, today), clock: sayClock(post.runLocal!),
      lacks: lacks({ ...post, bylineId: post.byline?.id ?? null }).join(', '), warnings: this.planner.warningsOf(post),
    }));
  });
}
