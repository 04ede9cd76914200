import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { CampaignItem, CampaignView } from '@keyroster/contract';
import { formatClock, formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { PostPicker } from '../site/post-picker';
import { BittingMark } from '../ui/bitting-mark';
import { SectionHead } from '../ui/section-head';
import { CampaignLine } from './campaign-line';

interface Day {
  /** Empty for what has no time. */
  date: string;
  name: string;
  items: CampaignItem[];
  /** The first day that is yet to come. */
  first: boolean;
}

/** What is missing of a campaign, its figures, and its posts and pieces day by day. */
@Component({
  selector: 'kr-campaign-time',
  imports: [BittingMark, CampaignLine, MatButton, PostPicker, RouterLink, SectionHead],
  templateUrl: './campaign-time.html',
  styles: `
    dl {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 26px;
      margin: 4px 0 10px;
    }
    dt {
      font-size: 12px;
      color: var(--soft);
    }
    dd {
      margin: 0;
      font: 560 20px/1.2 var(--serif);
    }
    .lacks {
      background: var(--brass-wash);
      padding: 8px 12px 8px 28px;
      margin: 0 0 16px;
    }
    .ready {
      color: var(--verdigris);
      font-weight: 600;
    }
    h3 {
      font: 650 12px var(--sans);
      margin: 10px 0 2px;
    }
    ul:not(.lacks) {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    ul:not(.lacks) li {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 4px 10px;
      border-bottom: 1px solid var(--hair);
      padding: 4px 0;
    }
    .piece {
      padding-left: 22px !important;
    }
    .clock {
      width: 40px;
      color: var(--soft);
      font-variant-numeric: tabular-nums;
    }
    .what {
      flex: 1 1 180px;
      overflow-wrap: anywhere;
    }
    .what small {
      display: block;
    }
    .now {
      border-top: 2px solid var(--verdigris);
      margin: 14px 0 0;
      font-size: 12px;
      color: var(--verdigris);
      font-weight: 600;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CampaignTime {
  private readonly session = inject(SessionService);
  readonly campaign = input.required<CampaignView>();
  readonly added = output<number>();
  readonly taken = output<number>();
  protected readonly figure = (n: number): string => n.toLocaleString('en-GB');
  protected readonly days = computed((): Day[] => {
    const today = this.session.today();
    const days = new Map<string, CampaignItem[]>();
    for (const item of this.campaign().items) {
      const date = item.local?.slice(0, 10) ?? '';
      days.set(date, [...(days.get(date) ?? []), item]);
    }
    const first = [...days.keys()].filter((date) => date > today).sort()[0];
    return [...days].map(([date, items]) => ({
      date,
      name: date === '' ? 'Without a date' : formatShortDate(date, today),
      items,
      first: date === first,
    }));
  });
  protected readonly clock = (item: CampaignItem): string =>
    item.local ? formatClock(`${item.local.slice(0, 16)}:00`) : '';
  protected state({ kind, state, figure }: CampaignItem): string {
    if (figure === null) return kind === 'post' ? '' : state;
    return kind === 'post' ? `read ${this.figure(figure)} times` : `seen ${this.figure(figure)} times`;
  }
}
