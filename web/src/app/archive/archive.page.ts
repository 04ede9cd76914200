import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { POST_SORTS, type PostCard, type PostQuery, type PostSort } from '@keyroster/contract';
import { STAGES, sayClock, sayShortDate, type Stage } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { BittingMark } from '../ui/bitting-mark';
import { CategoryTab } from '../ui/category-tab';

/** Every post in every stage, found by words, stage and category. */
@Component({
  imports: [RouterLink, BittingMark, CategoryTab],
  template: `
    <div class="screen">
      <div class="row spread"><h1>Archive</h1>@if (session.may('seeReleaseLog')) { <a class="btn" routerLink="/archive/release-log">Release log</a> }</div>
      <form class="row filter" role="search" (submit)="$event.preventDefault()">
        <label class="words"><span class="unseen">Words in title, excerpt or text</span><input type="search" [value]="words() ?? ''" placeholder="Words in title, excerpt or text" maxlength="200" (input)="later({ words: $any($event.target).value })" /></label>
        <label><span class="unseen">Stage</span><select (change)="set({ stage: $any($event.target).value })"><option value="">every stage</option>@for (s of stages; track s) { <option [value]="s" [selected]="s === stage()">{{ s }}</option> }</select></label>
        <label><span class="unseen">Category</span><select (change)="set({ category: $any($event.target).value })"><option value="">every category</option>@for (c of session.blog()?.categories ?? []; track c.id) { <option [value]="c.id" [selected]="c.id === +(category() ?? 0)">{{ c.name }}</option> }</select></label>
        @if (byline()) { <button type="button" class="btn small" (click)="set({ byline: '' })">only one byline ✕</button> }
      </form>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      <table>
        <caption class="unseen">Posts</caption>
        <thead><tr><th scope="col" [attr.aria-sort]="sort() === 'title' ? 'ascending' : 'none'"><button (click)="set({ sort: 'title' })">Title</button></th><th scope="col">Byline</th><th scope="col">Category</th>
          <th scope="col" [attr.aria-sort]="sort() === 'run' ? 'ascending' : sort() && sort() !== '-run' ? 'none' : 'descending'"><button (click)="set({ sort: sort() === 'run' ? '' : 'run' })">Run time {{ sort() === 'run' ? '↑' : sort() && sort() !== '-run' ? '' : '↓' }}</button></th><th scope="col">Words</th><th scope="col">Stage</th></tr></thead>
        <tbody>
          @for (post of posts(); track post.id) {
            <tr><td><a [routerLink]="['/posts', post.id]">{{ post.title }}</a></td><td>@if (post.byline) { <button class="plain" (click)="set({ byline: '' + post.byline.id })">{{ post.byline.name }}</button> }</td><td><kr-category [id]="post.categoryId" /></td>
              <td>{{ when(post) }}</td><td class="n">{{ post.words || '' }}</td><td><kr-mark [stage]="post.stage" [late]="post.late" /> <span class="soft">{{ post.stage }}</span>@if (post.checks.blocks > 0) { <b class="held" [title]="post.checks.blocks + ' checks hold it back'" role="img" [attr.aria-label]="post.checks.blocks + ' checks hold it back'">✕</b> } @else if (post.checks.warns > 0 && post.stage !== 'published' && post.stage !== 'pitch') { <b class="held warn" role="img" [title]="post.checks.warns + ' warnings'" [attr.aria-label]="post.checks.warns + ' warnings'">!</b> }</td></tr>
          }
        </tbody>
      </table>
      @if (posts()?.length === 0) { <p class="soft none">No post matches. Take a word or a filter away.</p> }
      @if (next()) { <p class="more"><button class="btn" (click)="fetchMore()" [disabled]="busy()">Show more</button></p> }
    </div>
  `,
  styles: `
    .filter { margin: 10px 0 12px; } .words { flex: 1; min-width: 220px; } select { width: auto; }
    table { width: 100%; border-collapse: collapse; background: var(--sheet); border: 1px solid var(--line); } th { text-align: left; font-weight: 600; color: var(--soft); border-bottom: 2px solid var(--ink); padding: 7px 10px; white-space: nowrap; } td { padding: 6px 10px; border-bottom: 1px solid var(--hair); } .n { text-align: right; }
    td a { font: 540 15px/1.25 var(--serif); color: var(--ink); text-decoration: none; overflow-wrap: anywhere; } td a:hover { text-decoration: underline; } td:not(:first-child) { white-space: nowrap; }
    th button, .plain { border: 0; background: none; padding: 0; cursor: pointer; font-weight: inherit; color: inherit; } .plain:hover { text-decoration: underline; }
    .held { color: var(--madder); margin-left: 7px; } .held.warn { color: var(--brass); }
    .n + td kr-mark { margin-right: 6px; } .none, .more { padding: 16px 0; }
    @media (max-width: 900px) { th:nth-child(3), td:nth-child(3), th:nth-child(5), td:nth-child(5), td .soft { display: none; } } @media (max-width: 560px) { th:nth-child(2), td:nth-child(2) { display: none; } }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ArchivePage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  readonly words = input<string>();
  readonly stage = input<string>();
  readonly category = input<string>();
  readonly byline = input<string>();
  readonly sort = input<string>();
  protected readonly stages = STAGES;
  protected readonly posts = signal<PostCard[] | null>(null);
  protected readonly next = signal<string | null>(null);
  protected readonly fault = signal('');
  protected readonly busy = signal(false);
  private timer: ReturnType<typeof setTimeout> | undefined;
  private asked = 0;

  constructor() {
    effect(() => {
      const query = this.query();
      untracked(() => void this.fetch(query, null));
    });
  }

  protected when(post: PostCard): string {
    return post.runLocal ? `${sayShortDate(post.runLocal, new Date().toISOString())} ${sayClock(post.runLocal)}` : '';
  }

  protected later(params: Record<string, string>): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.set(params), 250);
  }

  protected set(params: Record<string, string>): void {
    void this.router.navigate([], { queryParams: Object.fromEntries(Object.entries(params).map(([k, v]) => [k, v || null])), queryParamsHandling: 'merge' });
  }

  protected fetchMore(): void {
    void this.fetch(this.query(), this.next());
  }

  private query(): PostQuery {
    const number = (text: string | undefined) => (/^\d{1,9}$/.test(text ?? '') ? Number(text) : undefined);
    const stage = STAGES.find((s) => s === this.stage());
    return {
      words: this.words()?.slice(0, 200), stage: stage ? [stage as Stage] : undefined, category: number(this.category()), byline: number(this.byline()),
      sort: POST_SORTS.find((s) => s === this.sort()) as PostSort | undefined, limit: 60,
    };
  }

  private async fetch(query: PostQuery, cursor: string | null): Promise<void> {
    const mine = ++this.asked;
    this.busy.set(true);
    try {
      const page = await this.api.call('posts.list', { query: { ...query, ...(cursor ? { cursor } : {}) } });
      if (mine !== this.asked) return;
      this.posts.update((posts) => (cursor ? [...(posts ?? []), ...page.posts] : page.posts));
      this.next.set(page.next);
      this.fault.set('');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
