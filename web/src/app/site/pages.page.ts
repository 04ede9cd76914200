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
import { MatCheckbox } from '@angular/material/checkbox';
import type { SiteView } from '@keyroster/contract';
import {
  ADDRESS_PATTERNS,
  MAX_START_POSTS,
  POSTS_PER_PAGE,
  USUAL_SITE,
  postPath,
  type AddressPattern,
} from '@keyroster/core';
import { ErrorLine } from '../ui/error-line';
import { ChoiceField, NumberField, TextField, isReady, textControl } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { SectionHead } from '../ui/section-head';
import { watchUnsaved } from '../ui/unsaved';
import { OrderedList } from './ordered-list';
import { PostPicker, type PickedPost } from './post-picker';
import { SiteHead } from './site-head';
import { SiteService } from './site.service';

const EXAMPLE = { slug: 'a-post-of-yours', runLocal: '2026-11-27T08:00:00' };
const flag = (usual: boolean) => new FormControl(usual, { nonNullable: true });

/** What the pages show and how they are found; who may schedule; where newcomers begin. */
@Component({
  imports: [
    MatButton,
    MatCheckbox,
    ReactiveFormsModule,
    ChoiceField,
    NumberField,
    TextField,
    ErrorLine,
    OrderedList,
    PostPicker,
    SectionHead,
    SiteHead,
  ],
  providers: [SiteService],
  templateUrl: './pages.page.html',
  styleUrl: './menu.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PagesPage {
  protected readonly service = inject(SiteService);
  private readonly messages = inject(Messages);
  protected readonly perPage = POSTS_PER_PAGE;
  protected readonly patterns = ADDRESS_PATTERNS.map((value) => ({
    value,
    label: postPath(value, EXAMPLE),
  }));
  protected readonly form = new FormGroup({
    postsPerPage: new FormControl<number | null>(USUAL_SITE.postsPerPage),
    addressPattern: new FormControl<AddressPattern>(USUAL_SITE.addressPattern, { nonNullable: true }),
    letter: flag(USUAL_SITE.letter),
    categoriesInSearch: flag(USUAL_SITE.categoriesInSearch),
    tagsInSearch: flag(USUAL_SITE.tagsInSearch),
    editorsSchedule: flag(USUAL_SITE.editorsSchedule),
    wantedPerWeek: new FormControl<number | null>(null),
    intro: textControl(),
  });
  protected readonly start = signal<readonly PickedPost[]>([]);
  private readonly moved = signal(false);
  /** The site as it was when changing began. */
  private seen: SiteView | null = null;
  protected readonly full = computed(() => this.start().length >= MAX_START_POSTS);

  constructor() {
    watchUnsaved(() => this.form.dirty || this.moved());
    effect(() => {
      const site = this.service.site();
      if (!site || untracked(() => this.form.dirty || this.moved())) return;
      const { start, ...settings } = site.settings;
      const known = new Map(site.titles.map((t) => [t.id, t]));
      untracked(() => {
        this.seen = site;
        this.form.reset({ ...settings, intro: start.intro });
        this.start.set(start.posts.flatMap((id) => known.get(id) ?? []));
      });
    });
  }

  protected add(post: PickedPost): void {
    if (this.full() || this.start().some((p) => p.id === post.id)) return;
    this.put([...this.start(), post]);
  }
  protected readonly titleOf = (post: PickedPost): string => post.title;
  protected readonly noteOf = (post: PickedPost): string =>
    post.shown ? '' : 'not before readers: left out';
  protected remove(id: number): void {
    this.put(this.start().filter((p) => p.id !== id));
  }
  protected put(posts: readonly PickedPost[]): void {
    this.start.set(posts);
    this.moved.set(true);
  }

  protected async save(): Promise<void> {
    if (!isReady(this.form)) return;
    const { intro, postsPerPage, ...settings } = this.form.getRawValue();
    const saved = await this.service.change(
      {
        settings: {
          ...settings,
          postsPerPage: postsPerPage ?? USUAL_SITE.postsPerPage,
          start: { intro, posts: this.start().map((p) => p.id) },
        },
      },
      this.seen,
    );
    if (!saved) return;
    this.form.markAsPristine();
    this.moved.set(false);
    this.messages.done('Saved. Readers see it now.');
  }
}
