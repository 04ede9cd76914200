import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { ReviewItem } from '@keyroster/contract';
import { formatClock, formatDistance, formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { CategoryTab } from '../site/category-tab';
import { SectionHead } from '../ui/section-head';
import { ReviewService } from './review.service';

const SINCE: Record<ReviewItem['kind'], (day: string) => string> = {
  review: (day) => `handed in ${day}`,
  proofread: (day) => `to proofread since ${day}`,
  update: (day) => `changed ${day}, not live yet`,
};

/** What waits for oneself to read it, the soonest first. */
@Component({
  selector: 'kr-waiting',
  imports: [CategoryTab, RouterLink, SectionHead],
  templateUrl: './waiting-list.html',
  styleUrl: './waiting-list.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WaitingList {
  private readonly session = inject(SessionService);
  protected readonly review = inject(ReviewService);
  protected since({ kind, since }: ReviewItem): string {
    return SINCE[kind](formatDistance(since.slice(0, 10), this.session.today()));
  }
  protected runs({ kind, runLocal }: ReviewItem): string {
    if (kind === 'update') return 'published';
    return runLocal
      ? `runs ${formatShortDate(runLocal, this.session.today())} ${formatClock(runLocal)}`
      : 'no run time';
  }
}
