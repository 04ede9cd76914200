import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { Router } from '@angular/router';
import type { MediaView, SpecialDraft, SpecialPartView, SpecialView } from '@keyroster/contract';
import {
  FIRST_LOOK,
  MAX_SPECIAL_INTRO,
  MAX_SPECIAL_POSTS,
  MAX_SPECIAL_TITLE,
  PART_NOTES,
  isSlug,
  type Look,
} from '@keyroster/core';
import { firstValueFrom } from 'rxjs';
import { inBlog } from '../api/blog-choice';
import { AtRoot } from '../api/root';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { landRefusal } from '../api/refusals';
import { Saving } from '../changes/saving.service';
import { LibraryDialog } from '../media/library-dialog';
import { LookChoice } from '../site/look-choice';
import { OrderedList } from '../site/ordered-list';
import { PostPicker, type FoundPost } from '../site/post-picker';
import { confirm } from '../ui/confirm';
import { FormMerge } from '../ui/form-merge';
import { TwoValues } from '../ui/two-values';
import { ErrorLine } from '../ui/error-line';
import { TextField, isReady, must, textControl } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { PageHead } from '../ui/page-head';
import { SectionHead } from '../ui/section-head';
import { watchUnsaved } from '../ui/unsaved';
import { SpecialPreview } from './special-preview';

/** With what a change of it names. */
const seenSpecial = (special: SpecialView) => ({
  ...special,
  postIds: special.parts.map((p) => p.id),
  published: special.publishedAt !== null,
});
const valuesOf = ({ title, intro, coverAlt, slug, host, parts, look, coverId }: SpecialView) => ({
  ...{ title, intro, coverAlt, slug, host: host ?? '' },
  ...{ parts: parts as readonly SpecialPartView[], look, coverId },
});
type SpecialValues = ReturnType<typeof valuesOf>;

/** One special: its cover, its posts in order, its look and address, with a picture of it beside. */
@Component({
  imports: [
    AtRoot,
    TwoValues,
    ErrorLine,
    LookChoice,
    MatButton,
    OrderedList,
    PageHead,
    PostPicker,
    ReactiveFormsModule,
    SectionHead,
    SpecialPreview,
    TextField,
  ],
  templateUrl: './special.page.html',
  styleUrl: './special.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SpecialPage {
  protected readonly inBlog = inBlog;
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly dialogs = inject(MatDialog);
  private readonly messages = inject(Messages);
  private readonly router = inject(Router);
  readonly id = input.required<string>();
  protected readonly special = signal<SpecialView | null>(null);
  protected readonly parts = signal<readonly SpecialPartView[]>([]);
  protected readonly look = signal<Look>(FIRST_LOOK);
  protected readonly coverId = signal<number | null>(null);
  protected readonly error = signal('');
  protected readonly form = new FormGroup({
    title: textControl(
      '',
      must((title: string) => title.trim() !== '', 'A special needs a title.'),
    ),
    intro: textControl(),
    coverAlt: textControl(),
    slug: textControl(
      '',
      must(isSlug, 'Small letters, digits and single hyphens, and no page of the blog’s own.'),
    ),
    host: textControl(),
  });
  private readonly typed = toSignal(this.form.valueChanges, { initialValue: null });
  protected readonly max = { title: MAX_SPECIAL_TITLE, intro: MAX_SPECIAL_INTRO };
  protected readonly full = computed(() => this.parts().length >= MAX_SPECIAL_POSTS);
  protected readonly titleOf = (part: SpecialPartView): string => part.title;
  protected readonly noteOf = (part: SpecialPartView): string => PART_NOTES[part.state];
  /** What stands on the screen, saved or not. */
  protected readonly draft = computed((): SpecialDraft => {
    this.typed();
    const { title, intro, coverAlt, slug, host } = this.form.getRawValue();
    const special = this.special();
    return {
      title: title.trim() || (special?.title ?? ''),
      intro: intro.trim(),
      slug: isSlug(slug) ? slug : (special?.slug ?? ''),
      host: host.trim() || null,
      look: this.look(),
      coverId: this.coverId(),
      coverAlt: coverAlt.trim(),
      postIds: this.parts().map((p) => p.id),
    };
  });

  protected readonly merge = new FormMerge<SpecialValues>(this.form, {
    labels: {
      ...{
        title: 'Title',
        intro: 'What it is about',
        coverAlt: 'What the picture shows',
        slug: 'Last part of its address',
      },
      ...{ host: 'Host of its own', parts: 'Posts', look: 'Look', coverId: 'Cover picture' },
    },
    read: () => ({
      ...this.form.getRawValue(),
      ...{ parts: this.parts(), look: this.look(), coverId: this.coverId() },
    }),
    draw: {
      parts: (parts) => this.parts.set(parts),
      look: (look) => this.look.set(look),
      coverId: (id) => this.coverId.set(id),
    },
    decided: { parts: (parts) => parts.map((p) => p.id) },
    say: {
      parts: (parts) => parts.map((p) => `“${p.title}”`).join(', ') || 'empty',
      look: () => 'another look',
      coverId: (id) => (id === null ? 'no picture' : 'another picture'),
    },
  });

  constructor() {
    watchUnsaved(() => this.merge.isUnsaved());
    effect(() => {
      const id = Number(this.id());
      untracked(() => void this.load(id));
    });
    inject(Live).whenever(['special', 'release'], () => this.load(Number(this.id()), true));
  }

  /** What is being changed here is not lost when something changes elsewhere. */
  private async load(id: number, again = false): Promise<void> {
    await this.attempt(async () => {
      const special = await this.api.call('specials.see', { id });
      this.special.set(special);
      if (again) this.merge.meet(valuesOf(special));
      else this.merge.open(valuesOf(special));
    });
  }

  private show(special: SpecialView): void {
    this.special.set(special);
    this.merge.open(valuesOf(special));
  }

  protected readonly unsaved = (): boolean => this.merge.isUnsaved();

  protected put(parts: readonly SpecialPartView[]): void {
    this.parts.set(parts);
  }
  protected add({ id, title, stage }: FoundPost): void {
    if (this.full() || this.parts().some((p) => p.id === id)) return;
    const state = stage === 'published' ? 'readable' : stage === 'withdrawn' ? 'withdrawn' : 'not out';
    this.put([...this.parts(), { id, title, stage, state }]);
  }
  protected removePost(part: SpecialPartView): void {
    this.put(this.parts().filter((p) => p.id !== part.id));
  }
  protected wear(look: Look): void {
    this.look.set(look);
  }

  protected async choosePicture(): Promise<void> {
    const dialog = this.dialogs.open<LibraryDialog, unknown, MediaView[]>(LibraryDialog, {
      data: { many: false },
      width: '720px',
      maxWidth: '94vw',
      ariaLabel: 'Choose a picture',
    });
    const [picture] = (await firstValueFrom(dialog.afterClosed())) ?? [];
    if (!picture) return;
    this.cover(picture.id);
    this.form.controls.coverAlt.setValue(picture.alt);
  }
  protected cover(id: number | null): void {
    this.coverId.set(id);
  }

  protected async save(): Promise<boolean> {
    if (!isReady(this.form)) return false;
    if (this.merge.mustChoose()) return false;
    const sent = this.merge.values();
    try {
      const special = await this.saving.save('specials.change', seenSpecial(this.special()!), this.draft());
      this.special.set(special);
      this.merge.saved(sent, valuesOf(special));
      this.error.set('');
      return true;
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
      return false;
    }
  }

  protected async publish(published: boolean): Promise<void> {
    if (published && this.unsaved() && !(await this.save())) return;
    await this.attempt(async () => {
      const special = await this.saving.save('specials.publish', seenSpecial(this.special()!), { published });
      if (this.unsaved()) this.special.set(special);
      else this.show(special);
      this.messages.done(published ? 'Readers have it now.' : 'Readers have it no longer.', () =>
        this.publish(!published),
      );
    });
  }

  protected async remove(): Promise<void> {
    const sure = await confirm(this.dialogs, {
      heading: `Delete “${this.special()!.title}”?`,
      text: 'Its cover, order and look are lost; its posts stay on the blog. Links to it stop working.',
      act: 'Delete',
      grave: true,
    });
    if (!sure) return;
    await this.attempt(async () => {
      await this.saving.remove('specials.remove', this.special()!);
      this.merge.forget();
      await this.router.navigate(['/archive/specials']);
    });
  }

  private async attempt(act: () => Promise<void>): Promise<void> {
    try {
      await act();
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
