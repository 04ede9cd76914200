import { ChangeDetectionStrategy, Component, effect, inject, untracked } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import type { SiteView } from '@keyroster/contract';
import { COMMENT_HOLDS, MAX_CLOSE_DAYS, USUAL_SITE, type CommentHold } from '@keyroster/core';
import { SiteService } from '../site/site.service';
import { FormMerge } from '../ui/form-merge';
import { TwoValues } from '../ui/two-values';
import { ErrorLine } from '../ui/error-line';
import { ChoiceField, NumberField } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { SectionHead } from '../ui/section-head';
import { watchUnsaved } from '../ui/unsaved';

const HOLD_NAMES: Record<CommentHold, string> = {
  newcomers: 'the first of everybody new',
  everybody: 'every comment',
};

/** The blog's part of who can comment: its switch, what waits, and when comments close. */
@Component({
  selector: 'kr-comment-rules',
  imports: [
    ChoiceField,
    TwoValues,
    ErrorLine,
    MatButton,
    MatCheckbox,
    NumberField,
    ReactiveFormsModule,
    SectionHead,
  ],
  providers: [SiteService],
  template: `
    <section aria-label="Rules">
      <kr-section name="Rules" />
      <kr-error [of]="service.error()" />
      <form [formGroup]="form" (ngSubmit)="save()" novalidate>
        <mat-checkbox formControlName="comments">Readers can comment on this blog</mat-checkbox>
        <p class="soft">Each post has a switch of its own as well, under More. Both must be on.</p>
        <kr-choice label="What waits to be read" [options]="holds" formControlName="commentsHold" />
        <kr-number
          label="Comments close after days"
          [min]="1"
          [max]="maxDays"
          placeholder="never"
          formControlName="commentsCloseDays"
        />
        <kr-two-values [of]="merge" />
        <p class="row">
          <button matButton="filled" type="submit" [disabled]="!form.dirty">Save</button>
        </p>
      </form>
    </section>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CommentRulesForm {
  protected readonly service = inject(SiteService);
  private readonly messages = inject(Messages);
  protected readonly maxDays = MAX_CLOSE_DAYS;
  protected readonly holds = COMMENT_HOLDS.map((value) => ({ value, label: HOLD_NAMES[value] }));
  protected readonly form = new FormGroup({
    comments: new FormControl(USUAL_SITE.comments, { nonNullable: true }),
    commentsHold: new FormControl<CommentHold>(USUAL_SITE.commentsHold, { nonNullable: true }),
    commentsCloseDays: new FormControl<number | null>(USUAL_SITE.commentsCloseDays),
  });

  /** The site as it was when changing began. */
  private seen: SiteView | null = null;

  protected readonly merge = new FormMerge<ReturnType<typeof this.form.getRawValue>>(this.form, {
    labels: {
      comments: 'Readers may comment',
      commentsHold: 'What waits to be read',
      commentsCloseDays: 'Comments close after days',
    },
    say: { commentsHold: (hold) => `“${HOLD_NAMES[hold]}”` },
  });

  constructor() {
    watchUnsaved(() => this.merge.isUnsaved());
    effect(() => {
      const site = this.service.site();
      if (!site) return;
      const { comments, commentsHold, commentsCloseDays } = site.settings;
      untracked(() => {
        this.seen = site;
        this.merge.meet({ comments, commentsHold, commentsCloseDays });
      });
    });
  }

  protected async save(): Promise<void> {
    if (this.form.invalid) return;
    if (this.merge.mustChoose()) return;
    const settings = this.form.getRawValue();
    if (!(await this.service.change(settings, this.seen))) return;
    this.merge.saved(settings);
    this.messages.done('Saved. It counts for every post from now on.');
  }
}
