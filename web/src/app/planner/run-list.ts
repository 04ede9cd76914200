import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { PlannerCard } from '@keyroster/contract';
import { lacks, formatClock, formatDate } from '@keyroster/core';
import { BittingMark } from '../ui/bitting-mark';
import { CategoryTab } from '../site/category-tab';
import { PlannerService } from './planner.service';

/** The dated posts in order of run time, with what each still lacks and what is wrong with its date. */
@Component({
  selector: 'kr-run-list',
  imports: [MatButton, BittingMark, CategoryTab],
  templateUrl: './run-list.html',
  styleUrl: './run-list.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RunList {
  protected readonly planner = inject(PlannerService);
  /** Rows that are drawn; a list of thousands is read from its beginning. */
  protected readonly step = 200;
  protected readonly max = signal(this.step);
  protected readonly more = computed(() => Math.max(0, this.planner.shown().length - this.max()));
  readonly opened = output<PlannerCard>();
  readonly keyed = output<{ event: KeyboardEvent; post: PlannerCard }>();
  protected readonly rows = computed(() => {
    const today = this.planner.view()?.today;
    return this.planner
      .shown()
      .slice(0, this.max())
      .map((post, i, all) => ({
        post,
        first: i === 0 || all[i - 1]!.runLocal!.slice(0, 10) !== post.runLocal!.slice(0, 10),
        day: formatDate(post.runLocal!, today),
        clock: formatClock(post.runLocal!),
        lacks: lacks({ ...post, bylineId: post.byline?.id ?? null }).join(', '),
        warnings: this.planner.warningsOf(post),
      }));
  });
}
