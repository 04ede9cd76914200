import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { CampaignItem, CampaignView } from '@keyroster/contract';
import { daysBetween, formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';

interface Mark {
  at: number;
  kind: CampaignItem['kind'];
  out: boolean;
}
interface Row {
  postId: number;
  title: string;
  marks: Mark[];
}

/** Marks this close to the end are within the line. */
const percent = (part: number, whole: number): number =>
  whole === 0 ? 0 : Math.min(100, Math.max(0, (100 * part) / whole));

/**
 * The posts of a campaign above each other, each with its release and its pieces along the same days. A picture of what
 * the list below it says in words, so it says nothing itself.
 */
@Component({
  selector: 'kr-campaign-line',
  template: `
    @if (span(); as s) {
      <div class="line" aria-hidden="true">
        <div class="row days">
          <span></span>
          <span class="track"
            ><i>{{ s.first }}</i
            ><i>{{ s.last }}</i></span
          >
        </div>
        @for (r of rows(); track r.postId) {
          <div class="row">
            <span class="title">{{ r.title }}</span>
            <span class="track">
              @if (s.from !== null) {
                <b class="own" [style.left.%]="s.from" [style.width.%]="s.until - s.from"></b>
              }
              @if (s.today !== null) {
                <b class="today" [style.left.%]="s.today"></b>
              }
              @for (m of r.marks; track $index) {
                <u [class.piece]="m.kind === 'piece'" [class.out]="m.out" [style.left.%]="m.at"></u>
              }
            </span>
          </div>
        }
        <p class="soft key">
          <u></u> post <u class="piece"></u> piece, filled once it is out
          @if (s.today !== null) {
            <b class="today"></b> today
          }
        </p>
      </div>
    }
  `,
  styleUrl: './campaign-line.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CampaignLine {
  private readonly session = inject(SessionService);
  readonly campaign = input.required<CampaignView>();

  private readonly ends = computed((): [string, string] | null => {
    const { items, from, until } = this.campaign();
    const days = [from, until, ...items.map((i) => i.local?.slice(0, 10) ?? null)].filter((d) => d !== null);
    days.sort();
    return days.length === 0 ? null : [days[0]!, days.at(-1)!];
  });
  private readonly at = (day: string): number => {
    const [first, last] = this.ends()!;
    return percent(daysBetween(first, day), daysBetween(first, last));
  };
  protected readonly span = computed(() => {
    const ends = this.ends();
    if (!ends) return null;
    const today = this.session.today();
    const { from, until } = this.campaign();
    return {
      first: formatShortDate(ends[0], today),
      last: formatShortDate(ends[1], today),
      from: from === null && until === null ? null : this.at(from ?? ends[0]),
      until: this.at(until ?? ends[1]),
      today: today >= ends[0] && today <= ends[1] ? this.at(today) : null,
    };
  });
  protected readonly rows = computed((): Row[] => {
    const { items } = this.campaign();
    const posts = items.filter((i) => i.kind === 'post');
    return posts.map(({ postId, title }) => ({
      postId,
      title,
      marks: items
        .filter((i) => i.postId === postId && i.local !== null)
        .map((i) => ({ at: this.at(i.local!.slice(0, 10)), kind: i.kind, out: i.figure !== null })),
    }));
  });
}
