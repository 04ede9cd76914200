import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import type { PostCard } from '@keyroster/contract';
import { sayClock, sayCount, sayShortDate, type Stage } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { BittingMark } from '../ui/bitting-mark';
import { CategoryTab } from '../ui/category-tab';

const STAGES: { stage: Stage; heading: string }[] = [
  { stage: 'in review', heading: 'In review' }, { stage: 'drafting', heading: 'Being written' }, { stage: 'commissioned', heading: 'Commissioned' },
  { stage: 'cleared', heading: 'Cleared' }, { stage: 'scheduled', heading: 'Scheduled' },
];

/** Everything between commission and release: what waits for review first, the soonest on top. */
@Component({
  imports: [RouterLink, BittingMark, CategoryTab],
  template: `
    <div class="screen">
      <div class="row spread head"><h1>Desk</h1>
        <span class="row"><a class="btn" routerLink="/pictures">Pictures</a><a class="btn" routerLink="/site/formats">Formats and tags</a><div class="seg" role="group" aria-label="Whose posts">
          <button [attr.aria-pressed]="!mine()" (click)="show(null)">Everything</button><button [attr.aria-pressed]="mine()" (click)="show('mine')">Mine</button>
        </div></span></div>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      @for (group of groups(); track group.stage) {
        <section [attr.aria-label]="group.heading"><h2><kr-mark [stage]="group.stage" /> {{ group.heading }} <span>{{ group.posts.length }}</span></h2>
          @for (post of group.posts; track post.id) {
            <a [routerLink]="['/posts', post.id]" [class.late]="post.late">
              <b>{{ post.title }}@if (post.checks.blocks + post.checks.warns > 0) { <i [class.madder]="post.checks.blocks > 0" [title]="checks(post)">{{ post.checks.blocks > 0 ? '✕' : '!' }}<span class="unseen">{{ checks(post) }}</span></i> }</b><span>{{ post.byline?.name ?? 'nobody yet' }}</span><kr-category [id]="post.categoryId" />
              <span>{{ post.words ? post.words.toLocaleString('en-GB') + ' words' : 'no text yet' }}</span><span [class.madder]="post.late">{{ when(post) }}</span>
            </a>
          }
        </section>
      } @empty { @if (posts()) { <p class="soft empty">{{ mine() ? 'Nothing on the desk is yours. Commissions will stand here.' : 'The desk is clear. Put a pitch on a date in the planner, and it lands here.' }}</p> } }
    </div>
  `,
  styles: `
    .head { margin-bottom: 10px; } .seg { display: inline-flex; border: 1px solid var(--line); border-radius: 4px; overflow: hidden; background: var(--field); }
    .seg button { border: 0; background: none; padding: 5px 11px; cursor: pointer; outline-offset: -2px; } .seg [aria-pressed='true'] { background: var(--verdigris-wash); font-weight: 650; }
    section { margin-bottom: 20px; } h2 { display: flex; align-items: center; gap: 10px; border-top: 2px solid var(--ink); padding: 6px 0 5px; } h2 span { font: 600 13px var(--sans); color: var(--soft); }
    a { display: grid; grid-template-columns: minmax(0, 1fr) 150px 130px 90px 190px; gap: 14px; align-items: baseline; padding: 7px 10px; background: var(--sheet); border: 1px solid var(--line); border-top-width: 0; color: var(--soft); text-decoration: none; outline-offset: -2px; }
    h2 + a { border-top-width: 1px; } a:hover { background: var(--verdigris-wash); } a b { font: 540 15.5px/1.25 var(--serif); color: var(--ink); overflow-wrap: anywhere; } .late { border-left: 3px solid var(--madder); } .madder { color: var(--madder); }
    .empty { padding: 30px 0; } a i { font: 700 12px var(--sans); color: var(--brass); margin-left: 7px; } .row .btn { display: inline-flex; color: var(--ink); }
    @media (max-width: 900px) { a { grid-template-columns: 1fr 1fr; gap: 3px 10px; } a b { grid-column: 1 / -1; } }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DeskPage {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  private readonly router = inject(Router);
  readonly whose = input<string>();
  protected readonly posts = signal<PostCard[] | null>(null);
  protected readonly fault = signal('');
  protected readonly mine = computed(() => this.whose() === 'mine');
  protected readonly groups = computed(() => {
    const me = this.session.me()?.id;
    const shown = (this.posts() ?? []).filter((p) => !this.mine() || p.byline?.id === me);
    return STAGES.map((s) => ({ ...s, posts: shown.filter((p) => p.stage === s.stage) })).filter((g) => g.posts.length > 0);
  });

  constructor() {
    void this.refresh();
    inject(Live).whenever(['post', 'note'], () => void this.refresh());
  }

  protected when(post: PostCard): string {
    const run = post.runLocal ? `runs ${sayShortDate(post.runLocal)} ${sayClock(post.runLocal)}` : 'no run time';
    return post.late && post.copyDate ? `copy was due ${sayShortDate(post.copyDate)}` : run;
  }

  protected checks({ checks: { blocks, warns } }: PostCard): string {
    return [blocks > 0 ? `${sayCount(blocks, 'check')} ${blocks === 1 ? 'holds' : 'hold'} it back` : '', warns > 0 ? sayCount(warns, 'warning') : ''].filter(Boolean).join(', ');
  }

  protected show(whose: string | null): void {
    void this.router.navigate([], { queryParams: { whose } });
  }

  private async refresh(): Promise<void> {
    try {
      this.posts.set((await this.api.call('posts.list', { query: { stage: STAGES.map((s) => s.stage), sort: 'run', limit: 200 } })).posts);
      this.fault.set('');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }
}
