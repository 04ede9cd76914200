import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { BatchItemView, ItemState } from '@keyroster/contract';

/** What a batch does, post by post: what was and what comes, or why not. */
@Component({
  selector: 'kr-batch-items',
  imports: [MatButton, RouterLink],
  templateUrl: './batch-items.html',
  styleUrl: './batch-items.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BatchItems {
  readonly items = input.required<BatchItemView[]>();
  readonly total = input(0);
  readonly choosable = input(false);
  readonly state = output<{ postId: number; state: ItemState }>();
  readonly more = output();
}
