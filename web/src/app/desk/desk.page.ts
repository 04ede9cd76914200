import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import type { PostCard, PostPage } from '@keyroster/contract';
import { formatClock, formatCount, formatShortDate, type Stage } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { BittingMark } from '../ui/bitting-mark';
import { CategoryTab } from '../site/category-tab';
import { ErrorLine } from '../ui/error-line';
import { SwitchField } from '../ui/fields';
import { PageHead } from '../ui/page-head';
import { PersonBadge } from '../ui/person-badge';
import { MatTooltip } from '@angular/material/tooltip';
import { SectionHead } from '../ui/section-head';
import { EmptyState } from '../ui/empty-state';
import { ReviewService } from './review.service';
import { WaitingList } from './waiting-list';

const STAGES: { stage: Stage; heading: string }[] = [
  { stage: 'in review', heading: 'In review' },
  { stage: 'drafting', heading: 'Being written' },
  { stage: 'commissioned', heading: 'Commissioned' },
  { stage: 'cleared', heading: 'Cleared' },
  { stage: 'scheduled', heading: 'Scheduled' },
];

/** Everything between commission and release: what waits for review first, the soonest on top. */
@Component({
  imports: [
    MatButton,
    RouterLink,
    BittingMark,
    CategoryTab,
    ErrorLine,
    SwitchField,
    PageHead,
    PersonBadge,
    MatTooltip,
    SectionHead,
    EmptyState,
    WaitingList,
  ],
  providers: [ReviewService],
  templateUrl: './desk.page.html',
  styleUrl: './desk.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DeskPage {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  private readonly router = inject(Router);
  private readonly review = inject(ReviewService);
  readonly whose = input<string>();
  protected readonly whoses = [
    { value: 'all', label: 'Everything' },
    { value: 'mine', label: 'Mine' },
  ];
  protected readonly posts = signal<PostCard[] | null>(null);
  private readonly here = signal<PostPage['here']>([]);
  /** Who else has a post open. */
  protected readonly peopleIn = (id: number) =>
    this.here().flatMap((h) => (h.postId === id ? [h.person] : []));
  protected readonly error = signal('');
  /** What waits for oneself and is to be read first. */
  protected readonly first = computed(() => this.review.items()[0]);
  protected readonly mine = computed(() => this.whose() === 'mine');
  protected readonly groups = computed(() => {
    const me = this.session.me()?.id;
    // What waits for oneself stands above, once.
    const above = new Set(this.mine() ? [] : this.review.items().map((item) => item.postId));
    const shown = (this.posts() ?? []).filter((p) => (this.mine() ? p.byline?.id === me : !above.has(p.id)));
    return STAGES.map((s) => ({ ...s, posts: shown.filter((p) => p.stage === s.stage) })).filter(
      (g) => g.posts.length > 0,
    );
  });

  constructor() {
    void this.refresh();
    inject(Live).whenever(['post', 'note', 'text'], () => this.refresh());
  }

  protected when(post: PostCard): string {
    const run = post.runLocal
      ? `runs ${formatShortDate(post.runLocal)} ${formatClock(post.runLocal)}`
      : 'no run time';
    return post.late && post.copyDate ? `copy was due ${formatShortDate(post.copyDate)}` : run;
  }

  protected checks({ checks: { blocks, warns } }: PostCard): string {
    return [
      blocks > 0 ? `${formatCount(blocks, 'check')} ${blocks === 1 ? 'holds' : 'hold'} it back` : '',
      warns > 0 ? formatCount(warns, 'warning') : '',
    ]
      .filter(Boolean)
      .join(', ');
  }

  protected show(whose: string | null): void {
    void this.router.navigate([], { queryParams: { whose } });
  }

  private async refresh(): Promise<void> {
    try {
      const { posts, here } = await this.api.call('posts.list', {
        query: { stage: STAGES.map((s) => s.stage), sort: 'run', limit: 200 },
      });
      this.posts.set(posts);
      this.here.set(here);
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
