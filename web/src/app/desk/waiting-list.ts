import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { ReviewItem } from '@keyroster/contract';
import { formatClock, formatDistance, formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { CategoryTab } from '../site/category-tab';
import { SectionHead } from '../ui/section-head';
import { ReviewService } from './review.service';

const KINDS: Record<ReviewItem['kind'], string> = {
  review: 'handed in',
  proofread: 'to proofread',
  update: 'changed, not before readers yet',
};

/** What waits for oneself to read it, the soonest first; the first one is opened at once. */
@Component({
  selector: 'kr-waiting',
  imports: [CategoryTab, MatButton, RouterLink, SectionHead],
  templateUrl: './waiting-list.html',
  styleUrl: './waiting-list.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WaitingList {
  private readonly session = inject(SessionService);
  protected readonly review = inject(ReviewService);
  protected readonly first = computed(() => this.review.items()[0]);

  protected since({ kind, since }: ReviewItem): string {
    const day = since.slice(0, 10);
    return `${KINDS[kind]} ${formatDistance(day, this.session.today())}`;
  }
  protected runs({ runLocal }: ReviewItem): string {
    return runLocal
      ? `runs ${formatShortDate(runLocal, this.session.today())} ${formatClock(runLocal)}`
      : 'no run time';
  }
}
