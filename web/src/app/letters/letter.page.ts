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
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatDialog } from '@angular/material/dialog';
import { MatProgressBar } from '@angular/material/progress-bar';
import { Router } from '@angular/router';
import type { LetterPostView, LetterView } from '@keyroster/contract';
import { MAX_LETTER_INTRO, MAX_LETTER_POSTS, MAX_SUBJECT, formatCount } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { landRefusal } from '../api/refusals';
import { Saving } from '../changes/saving.service';
import { OrderedList } from '../site/ordered-list';
import { PostPicker, type FoundPost } from '../site/post-picker';
import { confirm } from '../ui/confirm';
import { FormMerge } from '../ui/form-merge';
import { TwoValues } from '../ui/two-values';
import { ErrorLine } from '../ui/error-line';
import { TextField, textControl } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { PageHead } from '../ui/page-head';
import { SectionHead } from '../ui/section-head';
import { watchUnsaved } from '../ui/unsaved';
import { LetterFigures } from './letter-figures';
import { LetterPreview } from './letter-preview';
import { STATE_NAMES } from './words';

/** With its posts as a change of it names them. */
const seenLetter = (letter: LetterView) => ({ ...letter, postIds: letter.posts.map((p) => p.id) });
const valuesOf = ({ subject, intro, whole, posts }: LetterView) => ({ subject, intro, whole, posts });

/** One letter: written and looked at as a draft, then what became of it. */
@Component({
  imports: [
    TwoValues,
    ErrorLine,
    LetterFigures,
    LetterPreview,
    MatButton,
    MatCheckbox,
    MatProgressBar,
    OrderedList,
    PageHead,
    PostPicker,
    ReactiveFormsModule,
    SectionHead,
    TextField,
  ],
  templateUrl: './letter.page.html',
  styles: `
    .columns {
      display: grid;
      grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
      gap: 30px;
      align-items: start;
    }
    .withheld {
      display: block;
      color: var(--madder);
    }
    mat-progress-bar {
      margin: 6px 0 10px;
    }
    @media (max-width: 900px) {
      .columns {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LetterPage {
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly dialogs = inject(MatDialog);
  private readonly messages = inject(Messages);
  private readonly router = inject(Router);
  protected readonly session = inject(SessionService);
  readonly id = input.required<string>();
  protected readonly letter = signal<LetterView | null>(null);
  protected readonly posts = signal<readonly LetterPostView[]>([]);
  protected readonly error = signal('');
  protected readonly form = new FormGroup({
    subject: textControl(),
    intro: textControl(),
    whole: new FormControl(false, { nonNullable: true }),
  });
  protected readonly max = { subject: MAX_SUBJECT, intro: MAX_LETTER_INTRO };
  protected readonly full = computed(() => this.posts().length >= MAX_LETTER_POSTS);
  protected readonly stateNames = STATE_NAMES;
  protected readonly titleOf = (post: LetterPostView): string => post.title;
  protected readonly noteOf = (post: LetterPostView): string => post.withheld;
  protected readonly reach = computed(() => formatCount(this.letter()?.subscribers ?? 0, 'subscriber'));
  protected readonly done = computed(() => {
    const counts = this.letter()?.counts;
    if (!counts) return 0;
    const gone = counts.sent + counts.failed + counts.undelivered + counts.unsure + counts.left;
    return (100 * gone) / Math.max(1, gone + counts.waiting);
  });

  private readonly read = () => ({ ...this.form.getRawValue(), posts: this.posts() });
  protected readonly merge = new FormMerge<ReturnType<typeof this.read>>(this.form, {
    labels: {
      subject: 'Subject',
      intro: 'A few words before the posts',
      whole: 'With their whole text',
      posts: 'Posts',
    },
    read: this.read,
    draw: { posts: (posts) => this.posts.set(posts) },
    decided: { posts: (posts) => posts.map((p) => p.id) },
    say: { posts: (posts) => posts.map((p) => `“${p.title}”`).join(', ') || 'empty' },
  });

  constructor() {
    watchUnsaved(() => this.merge.isUnsaved());
    effect(() => {
      const id = Number(this.id());
      untracked(() => void this.load(id));
    });
    inject(Live).whenever(['letter'], () => this.load(Number(this.id()), true));
  }

  /** What is being written is not lost when something changes elsewhere. */
  private async load(id: number, again = false): Promise<void> {
    await this.attempt(async () => {
      const letter = await this.api.call('letters.see', { id });
      if (again && letter.state === 'draft') this.meet(letter);
      else this.show(letter);
    });
  }

  private show(letter: LetterView): void {
    this.letter.set(letter);
    this.merge.open(valuesOf(letter));
  }
  private meet(letter: LetterView): void {
    this.letter.set(letter);
    this.merge.meet(valuesOf(letter));
  }

  protected put(posts: readonly LetterPostView[]): void {
    this.posts.set(posts);
  }
  protected add({ id, title, stage }: FoundPost): void {
    if (this.full() || this.posts().some((p) => p.id === id)) return;
    this.put([...this.posts(), { id, title, stage, withheld: '' }]);
  }
  protected removePost(post: LetterPostView): void {
    this.put(this.posts().filter((p) => p.id !== post.id));
  }

  protected async save(): Promise<boolean> {
    if (this.merge.mustChoose()) return false;
    const sent = this.merge.values();
    const { subject, intro, whole, posts } = sent;
    try {
      const postIds = posts.map((p) => p.id);
      const body = { subject: subject.trim(), intro: intro.trim(), whole, postIds };
      const letter = await this.saving.save('letters.change', seenLetter(this.letter()!), body);
      this.letter.set(letter);
      this.merge.saved(sent, valuesOf(letter));
      this.error.set('');
      return true;
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
      return false;
    }
  }

  private unsaved = (): boolean => this.merge.isUnsaved();

  protected async tryOut(): Promise<void> {
    if (this.unsaved() && !(await this.save())) return;
    await this.attempt(async () => {
      const { to } = await this.api.call('letters.try', { id: this.letter()!.id, body: {} });
      this.messages.done(`A trial is on its way to ${to}.`);
    });
  }

  protected async send(): Promise<void> {
    if (this.unsaved() && !(await this.save())) return;
    const { id, version, subject } = this.letter()!;
    const sure = await confirm(this.dialogs, {
      heading: `Send “${subject || 'a letter without a subject'}” to ${this.reach()}?`,
      text: 'Each gets it once. What has gone out cannot be called back; a letter that is on its way can be stopped.',
      act: `Send to ${this.reach()}`,
    });
    if (!sure) return;
    try {
      this.show(await this.api.call('letters.send', { id, ifMatch: version, body: {} }));
      this.error.set('');
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    }
  }

  protected async stop(): Promise<void> {
    await this.attempt(async () => this.show(await this.api.call('letters.stop', this.asked())));
  }
  protected async resume(): Promise<void> {
    await this.attempt(async () => this.show(await this.api.call('letters.resume', this.asked())));
  }
  protected async settle(again: boolean): Promise<void> {
    const body = { again };
    await this.attempt(async () =>
      this.show(await this.api.call('letters.settle', { id: this.letter()!.id, body })),
    );
  }
  private readonly asked = () => ({ id: this.letter()!.id, body: {} });

  protected async remove(): Promise<void> {
    const sure = await confirm(this.dialogs, {
      heading: 'Delete this draft?',
      text: 'Its words are lost; its posts stay as they are.',
      act: 'Delete',
      grave: true,
    });
    if (!sure) return;
    await this.attempt(async () => {
      await this.saving.remove('letters.remove', this.letter()!);
      this.merge.forget();
      await this.router.navigate(['/outlets/letters']);
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
