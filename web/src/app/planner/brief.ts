import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatExpansionModule } from '@angular/material/expansion';
import { RouterLink } from '@angular/router';
import type { PersonView, PitchAlike, PostChanges, PostDetails, PostView } from '@keyroster/contract';
import {
  addDays,
  hasDateConstraint,
  formatShortDate,
  formatWhen,
  type DateConstraint,
} from '@keyroster/core';
import equal from 'fast-deep-equal';
import { SessionService } from '../accounts/session.service';
import { Api, ApiError, sentenceOf } from '../api/api';
import { BittingMark } from '../ui/bitting-mark';
import { CategoryTab } from '../site/category-tab';
import { ChoiceField, DateField, NumberField, TextField } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { watchDialog } from '../ui/unsaved';
import { ErrorLine } from '../ui/error-line';

export interface BriefData {
  id: number;
  /** What a pitch resembles. */
  alike: PitchAlike | null;
  /** May it be put on another date? */
  movable: boolean;
}

/** What the brief ends with: the post as it was changed, or the wish to move it. */
export type BriefResult = PostDetails | 'move';

/** A post from the planner's side: who writes it, and what they are asked for. */
@Component({
  selector: 'kr-brief',
  imports: [
    ChoiceField,
    DateField,
    MatButton,
    MatExpansionModule,
    NumberField,
    ReactiveFormsModule,
    TextField,
    MatDialogModule,
    RouterLink,
    BittingMark,
    CategoryTab,
    ErrorLine,
  ],
  templateUrl: './brief.html',
  styles: `
    .facts {
      color: var(--soft);
      margin-bottom: 10px;
      gap: 6px;
    }
    .thought {
      font: 430 15px/1.45 var(--serif);
      margin-bottom: 12px;
      overflow-wrap: break-word;
    }
    .alike {
      color: var(--brass);
      margin-bottom: 8px;
    }
    .four {
      display: grid;
      grid-template-columns: repeat(3, minmax(0, 1fr));
      gap: 8px;
      margin-top: 6px;
    }
    @media (max-width: 620px) {
      .four {
        grid-template-columns: 1fr 1fr;
      }
    }
    .pair {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 12px;
    }
    h2 {
      overflow-wrap: break-word;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BriefDialog {
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  private readonly dialog = inject<MatDialogRef<BriefDialog, BriefResult>>(MatDialogRef);
  protected readonly data = inject<BriefData>(MAT_DIALOG_DATA);
  protected readonly session = inject(SessionService);
  protected readonly post = signal<PostView | null>(null);
  protected readonly people = signal<PersonView[]>([]);
  protected readonly error = signal('');
  protected readonly busy = signal(false);
  /** The version that is changed; newer than the one shown when somebody changed the post meanwhile. */
  private version = 0;
  protected readonly writers = computed(() =>
    this.people()
      .filter((p) => p.active && ['contributor', 'editor', 'managing editor'].includes(p.role))
      .map((p) => ({ value: p.id, label: `${p.name}, ${p.role}` })),
  );
  protected readonly categories = computed(() =>
    (this.session.blog()?.categories ?? []).filter(
      (c) => this.session.isDeskFor(c.id) || c.id === this.post()?.categoryId,
    ),
  );
  protected readonly ratings = [1, 2, 3, 4, 5].map((n) => ({ value: n, label: `${n} of 5` }));
  private readonly text = () => new FormControl('', { nonNullable: true });
  protected readonly form = new FormGroup({
    categoryId: new FormControl<number | null>(null),
    bylineId: new FormControl<number | null>(null),
    angle: this.text(),
    length: new FormControl<number | null>(null),
    copyDate: this.text(),
    rating: new FormControl<number | null>(null),
    dateConstraint: new FormGroup({ notBefore: this.text(), notAfter: this.text(), mustBeOn: this.text() }),
  });
  /** Five days before the run time: time to review before it is needed. */
  private suggested({ runLocal: run, stage }: PostView): string {
    if (!run || stage !== 'commissioned') return '';
    const day = addDays(run.slice(0, 10), -5);
    // A date that has passed would make the post late at once.
    return day < this.session.today() ? '' : day;
  }
  protected readonly wished = (post: PostView) => hasDateConstraint(post.dateConstraint);
  protected readonly percent = (score: number) => `${Math.round(score * 100)}%`;
  protected readonly short = (local: string) => formatShortDate(local);
  protected readonly when = (local: string) => formatWhen(local);

  constructor() {
    watchDialog(this.dialog, () => this.form.dirty);
    void Promise.all([
      this.api.call('posts.see', { id: this.data.id }),
      this.api.call('people.list', {}),
    ]).then(
      ([post, people]) => {
        this.people.set(people);
        this.version = post.version;
        this.post.set(post);
        this.fill(post);
      },
      (error: unknown) => this.error.set(sentenceOf(error)),
    );
  }

  private fill(post: PostView): void {
    const { notBefore, notAfter, mustBeOn } = post.dateConstraint;
    this.form.setValue({
      categoryId: post.categoryId,
      bylineId: post.byline?.id ?? null,
      angle: post.brief.angle,
      length: post.brief.length,
      copyDate: post.brief.copyDate ?? this.suggested(post),
      rating: post.rating,
      dateConstraint: { notBefore: notBefore ?? '', notAfter: notAfter ?? '', mustBeOn: mustBeOn ?? '' },
    });
    if (!post.rights.details) this.form.disable();
  }

  protected async give(post: PostView): Promise<void> {
    if (this.form.invalid) {
      this.form.markAllAsTouched();
      return;
    }
    this.busy.set(true);
    const { bylineId, categoryId, angle, length, copyDate, rating, dateConstraint } = this.form.getRawValue();
    const wished: DateConstraint = {
      notBefore: dateConstraint.notBefore || null,
      notAfter: dateConstraint.notAfter || null,
      mustBeOn: dateConstraint.mustBeOn || null,
    };
    const body: PostChanges = {
      ...(bylineId === (post.byline?.id ?? null) ? {} : { bylineId }),
      ...(categoryId === post.categoryId ? {} : { categoryId }),
      ...(equal(wished, post.dateConstraint) ? {} : { dateConstraint: wished }),
      ...(rating === post.rating ? {} : { rating }),
      brief: { angle, length, copyDate: copyDate || null },
    };
    try {
      const done = await this.api.call('posts.change', { id: post.id, ifMatch: this.version, body });
      this.form.markAsPristine();
      this.dialog.close(done.post);
      const { byline: by, brief } = done.post;
      this.messages.done(
        done.post.stage === 'pitch'
          ? 'Saved.'
          : by
            ? `${by.name} has the brief${brief.copyDate ? `, copy due ${formatShortDate(brief.copyDate)}` : ''}.`
            : 'The brief is kept. Nobody writes it yet.',
      );
    } catch (error) {
      this.error.set(sentenceOf(error));
      if (error instanceof ApiError && error.code === 'version-conflict') {
        this.version = error.problem?.version ?? this.version;
        this.error.set(
          `${error.message} What you typed is still here; give the brief again to put it on top.`,
        );
      }
    } finally {
      this.busy.set(false);
    }
  }
}
