import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import type { OutletView } from '@keyroster/contract';
import { formatCount } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { OutletForm } from './outlet-form';
import { OutletsHead } from './outlets-head';
import { OutletsService } from './outlets.service';
import { MatSortModule } from '@angular/material/sort';
import { Sorted } from '../ui/sorted';
import { unitName } from './format-piece';

const SPEAKS: Record<OutletView['protocol'], string> = {
  micropub: 'Micropub',
  mail: 'mail',
  feed: 'feed',
  webhook: 'webhook',
};

/** The places that pieces go to: what each takes, what waits for it, and whether it is paused. */
@Component({
  imports: [MatButton, RouterLink, OutletsHead, OutletForm, MatSortModule],
  providers: [OutletsService],
  templateUrl: './outlets.page.html',
  styleUrl: './outlets.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OutletsPage {
  protected readonly outlets = inject(OutletsService);
  protected readonly session = inject(SessionService);
  private readonly router = inject(Router);
  /** An outlet's number, or `new`. */
  readonly look = input<string>();
  protected readonly speaks = SPEAKS;
  protected readonly manages = computed(() => this.session.may('manageOutlets'));
  protected readonly chosenId = computed(() => Number(this.look()) || null);
  protected readonly one = computed(
    () => (this.outlets.outlets() ?? []).find((o) => o.id === this.chosenId()) ?? null,
  );
  protected readonly chosen = computed(() => (this.look() === 'new' && this.manages() ? 'new' : this.one()));
  protected readonly sorted = new Sorted<OutletView>(() => this.outlets.outlets() ?? [], {
    name: (o) => o.name,
    kind: (o) => o.kind,
    waiting: (o) => o.waiting,
    sent: (o) => o.sent,
  });
  protected readonly count = (n: number) => formatCount(n, 'piece');

  protected open(look: number | 'new' | null): void {
    void this.router.navigate([], { queryParams: { look } });
  }

  protected takes({ limits }: OutletView): string {
    return [
      limits.length
        ? `${limits.length.max.toLocaleString('en-GB')} ${unitName(limits.length.unit)}`
        : 'any length',
      limits.links ? '' : 'no links',
      limits.tags > 0 ? `${limits.tags} tags` : 'no tags',
      limits.shapes.length === 3 ? '' : limits.shapes.join(' or '),
    ]
      .filter(Boolean)
      .join(', ');
  }

  protected pace({ limits }: OutletView): string {
    return (
      [
        limits.perHour ? `${limits.perHour} an hour` : '',
        limits.perDay ? `${limits.perDay} a day` : '',
        limits.quiet ? `quiet ${limits.quiet.from}–${limits.quiet.until}` : '',
      ]
        .filter(Boolean)
        .join(', ') || 'at any pace'
    );
  }
}
