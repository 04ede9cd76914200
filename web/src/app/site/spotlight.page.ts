import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { MAX_ROTATION, addDays, formatShortDate, type Held } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { EmptyState } from '../ui/empty-state';
import { ErrorLine } from '../ui/error-line';
import { DateField } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { SectionHead } from '../ui/section-head';
import { watchUnsaved } from '../ui/unsaved';
import { OrderedList } from './ordered-list';
import { PostPicker, type PickedPost } from './post-picker';
import { SiteHead } from './site-head';
import { SiteService } from './site.service';

/** Days that a post is held on top when nothing else is said. */
const A_WEEK = 6;

/** What stands on top of the front page: posts held for some days, in their order, and posts that take turns. */
@Component({
  imports: [
    MatButton,
    ReactiveFormsModule,
    RouterLink,
    EmptyState,
    ErrorLine,
    DateField,
    OrderedList,
    PostPicker,
    SectionHead,
    SiteHead,
  ],
  providers: [SiteService],
  templateUrl: './spotlight.page.html',
  styleUrl: './menu.page.scss',
  styles: `
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    ul li {
      display: flex;
      justify-content: space-between;
      gap: 10px;
      padding: 5px 0;
      border-bottom: 1px solid var(--hair);
    }
    .dates {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 0 12px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SpotlightPage {
  protected readonly service = inject(SiteService);
  private readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  protected readonly error = signal('');
  protected readonly rotation = signal<readonly PickedPost[]>([]);
  protected readonly changed = signal(false);
  protected readonly full = computed(() => this.rotation().length >= MAX_ROTATION);
  protected readonly days = new FormGroup({
    from: new FormControl('', { nonNullable: true }),
    until: new FormControl('', { nonNullable: true }),
  });
  protected readonly heldName = (held: Held): string => held.title;
  protected readonly heldNote = ({ from, until }: Held): string =>
    `${from <= this.session.today() ? 'on top since' : 'from'} ${this.short(from)}, until ${this.short(until)}`;
  protected readonly titleOf = (post: PickedPost): string => post.title;
  protected readonly noteOf = (post: PickedPost): string => (post.shown ? '' : 'not live: omitted');
  protected readonly short = (date: string): string => formatShortDate(date, this.session.today());

  constructor() {
    watchUnsaved(() => this.changed());
    effect(() => {
      const today = this.session.today();
      untracked(() => {
        if (!this.days.dirty) this.days.reset({ from: today, until: addDays(today, A_WEEK) });
      });
    });
    effect(() => {
      const site = this.service.site();
      if (!site || untracked(() => this.changed())) return;
      const known = new Map(site.titles.map((t) => [t.id, t]));
      untracked(() =>
        this.rotation.set((site.settings.rotation?.posts ?? []).flatMap((id) => known.get(id) ?? [])),
      );
    });
  }

  /** The order counts at once: nothing else is decided with it. */
  protected async order(held: readonly Held[]): Promise<void> {
    if (await this.service.change({ spotlightOrder: held.map((h) => h.id) }))
      this.messages.done('They stand on top in this order now.');
  }

  protected async hold(post: PickedPost): Promise<void> {
    const { from, until } = this.days.getRawValue();
    await this.set(post.id, { from, until: until || from }, `“${post.title}” is held on top.`);
  }
  protected async drop(held: Held): Promise<void> {
    const { from, until } = held;
    await this.set(held.id, null, `“${held.title}” is on top no more.`, { from, until });
  }

  private async set(
    id: number,
    spotlight: { from: string; until: string } | null,
    sentence: string,
    before: { from: string; until: string } | null = null,
  ): Promise<void> {
    try {
      const { version } = await this.api.call('posts.see', { id });
      await this.api.call('posts.change', { id, body: { spotlight }, ifMatch: version });
      this.error.set('');
      await this.service.refresh();
      this.messages.done(sentence, () => this.set(id, before, 'It is as it was.'));
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  protected put(posts: readonly PickedPost[]): void {
    this.rotation.set(posts);
    this.changed.set(true);
  }
  protected add(post: PickedPost): void {
    if (!this.full() && !this.rotation().some((p) => p.id === post.id)) this.put([...this.rotation(), post]);
  }
  protected remove(id: number): void {
    this.put(this.rotation().filter((p) => p.id !== id));
  }

  protected async save(): Promise<void> {
    const posts = this.rotation().map((p) => p.id);
    const since = this.service.site()?.settings.rotation?.since ?? this.session.today();
    const rotation = posts.length === 0 ? null : { posts, since };
    if (!(await this.service.change({ rotation }))) return;
    this.changed.set(false);
    this.messages.done(
      posts.length === 0 ? 'No posts take turns any more.' : 'Saved. They take turns from now on.',
    );
  }
}
