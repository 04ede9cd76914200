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
import { FormMerge } from '../ui/form-merge';
import { TwoValues } from '../ui/two-values';
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
    TwoValues,
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
  /** The site as it was when changing began. */
  private seen: SiteView | null = null;
  protected readonly full = computed(() => this.start().length >= MAX_START_POSTS);

  private readonly read = () => ({ ...this.form.getRawValue(), start: this.start() });
  protected readonly merge = new FormMerge<ReturnType<typeof this.read>>(this.form, {
    labels: {
      ...{ postsPerPage: 'Posts on a page', addressPattern: 'A post’s address' },
      letter: 'Readers can sign up for the letter',
      categoriesInSearch: 'List the pages of categories',
      tagsInSearch: 'List the pages of tags',
      wantedPerWeek: 'Posts wanted in a week',
      editorsSchedule: 'Editors may schedule in their categories',
      ...{ intro: 'What it says to them', start: 'Posts of Start here' },
    },
    read: this.read,
    draw: { start: (posts) => this.start.set(posts) },
    decided: { start: (posts) => posts.map((p) => p.id) },
    say: { start: (posts) => posts.map((p) => `“${p.title}”`).join(', ') || 'empty' },
  });

  constructor() {
    watchUnsaved(() => this.merge.isUnsaved());
    effect(() => {
      const site = this.service.site();
      if (!site) return;
      const { start, ...settings } = site.settings;
      const known = new Map(site.titles.map((t) => [t.id, t]));
      untracked(() => {
        this.seen = site;
        const { postsPerPage, addressPattern, letter, categoriesInSearch, tagsInSearch } = settings;
        const { editorsSchedule, wantedPerWeek } = settings;
        this.merge.meet({
          ...{ postsPerPage, addressPattern, letter, categoriesInSearch, tagsInSearch, editorsSchedule },
          ...{ wantedPerWeek, intro: start.intro, start: start.posts.flatMap((id) => known.get(id) ?? []) },
        });
      });
    });
  }

  protected add(post: PickedPost): void {
    if (this.full() || this.start().some((p) => p.id === post.id)) return;
    this.put([...this.start(), post]);
  }
  protected readonly titleOf = (post: PickedPost): string => post.title;
  protected readonly noteOf = (post: PickedPost): string => (post.shown ? '' : 'not live: omitted');
  protected remove(id: number): void {
    this.put(this.start().filter((p) => p.id !== id));
  }
  protected put(posts: readonly PickedPost[]): void {
    this.start.set(posts);
  }

  protected async save(): Promise<void> {
    if (!isReady(this.form)) return;
    if (this.merge.mustChoose()) return;
    const sent = this.read();
    const { intro, postsPerPage, start, ...settings } = sent;
    const saved = await this.service.change(
      {
        ...settings,
        postsPerPage: postsPerPage ?? USUAL_SITE.postsPerPage,
        start: { intro, posts: start.map((p) => p.id) },
      },
      this.seen,
    );
    if (!saved) return;
    this.merge.saved(sent);
    this.messages.done('Saved. Readers see it now.');
  }
}
