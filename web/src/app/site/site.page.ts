import { ChangeDetectionStrategy, Component, effect, inject, signal, untracked } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatOption } from '@angular/material/core';
import { MatSelect, MatSelectTrigger } from '@angular/material/select';
import { MatFormField } from '@angular/material/form-field';
import { MatButton } from '@angular/material/button';
import type { BlogChanges, CategoryView } from '@keyroster/contract';
import {
  CHECKS,
  CHECK_WEIGHTS,
  USUAL_WEIGHTS,
  WEEKDAYS,
  formatSlot,
  type CheckKey,
  type CheckWeight,
} from '@keyroster/core';
import { RouterLink } from '@angular/router';
import { SessionService } from '../accounts/session.service';
import { MatDialog } from '@angular/material/dialog';
import { Api } from '../api/api';
import { ApiError } from '../api/api-error';
import { confirm } from '../ui/confirm';
import { landRefusal } from '../api/refusals';
import { ChoiceField, NumberField, SuggestField, TextField, isReady, must, textControl } from '../ui/fields';
import { watchUnsaved } from '../ui/unsaved';
import { CategoryTab } from './category-tab';
import { Messages } from '../ui/messages.service';
import { FormMerge } from '../ui/form-merge';
import { TwoValues } from '../ui/two-values';
import { ErrorLine } from '../ui/error-line';
import { MatMenuModule } from '@angular/material/menu';
import { SiteHead } from './site-head';
import { SectionHead } from '../ui/section-head';
import { COLOURS } from '../changes/field-words';
import { Saving } from '../changes/saving.service';

/** What the blog is called, its categories, and its standing slots. */
@Component({
  imports: [
    MatOption,
    MatSelect,
    MatSelectTrigger,
    MatFormField,
    MatButton,
    CategoryTab,
    RouterLink,
    NumberField,
    SuggestField,
    TextField,
    TwoValues,
    ErrorLine,
    ChoiceField,
    MatMenuModule,
    SiteHead,
    ReactiveFormsModule,
    SectionHead,
  ],
  templateUrl: './site.page.html',
  styles: `
    .columns {
      display: grid;
      grid-template-columns: repeat(3, minmax(0, 1fr));
      gap: 30px;
      margin-top: 14px;
    }
    kr-section {
      margin-bottom: 5px;
    }
    ul {
      list-style: none;
      padding: 0;
      margin: 0 0 12px;
    }
    li {
      display: flex;
      gap: 8px;
      align-items: center;
      padding: 5px 0;
      border-bottom: 1px solid var(--hair);
    }
    li label:first-child,
    .grow {
      flex: 1;
    }
    .grow::first-letter {
      text-transform: uppercase;
    }
    .next {
      margin-top: 24px;
    }
    .days {
      max-width: 340px;
      margin-top: 10px;
    }
    .checks {
      grid-column: 1 / -1;
    }
    .checks ul {
      columns: 2;
      column-gap: 30px;
    }
    .checks li {
      break-inside: avoid;
    }
    .checks kr-choice {
      width: 140px;
    }
    mat-form-field.colour {
      width: 64px;
    }
    .swatch {
      display: inline-block;
      width: 18px;
      height: 11px;
      border-radius: 0 0 3px 3px;
      vertical-align: middle;
    }
    @media (max-width: 900px) {
      .columns {
        grid-template-columns: minmax(0, 1fr);
      }
      .checks ul {
        columns: 1;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SitePage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly messages = inject(Messages);
  private readonly dialogs = inject(MatDialog);
  protected readonly error = signal('');
  protected readonly weekdays = WEEKDAYS.map((label, i) => ({ value: i + 1, label }));
  protected readonly formatSlot = formatSlot;
  protected readonly checks = CHECKS;
  protected readonly weights = CHECK_WEIGHTS;
  protected readonly weightNames = { blocks: 'holds it back', warns: 'warns', off: 'is off' };
  protected readonly usual = USUAL_WEIGHTS;
  protected readonly colours = COLOURS;
  protected readonly hues = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10];

  protected readonly zones = Intl.supportedValuesOf('timeZone');

  protected readonly form = new FormGroup({
    title: textControl(
      '',
      must((title: string) => title.trim() !== '', 'A blog needs a name.'),
    ),
    tagline: textControl(),
    zone: textControl(
      '',
      must((zone: string) => this.zones.includes(zone), 'Choose a zone of the list, such as Europe/London.'),
    ),
    firstWeekday: new FormControl(1, { nonNullable: true }),
  });
  protected readonly newName = textControl();
  protected readonly merging = signal<{ from: CategoryView; into: number } | null>(null);

  protected readonly formMerge = new FormMerge<ReturnType<typeof this.form.getRawValue>>(this.form, {
    labels: {
      title: 'Name',
      tagline: 'Tagline',
      zone: 'Home time zone',
      firstWeekday: 'First day of the week',
    },
  });

  constructor() {
    watchUnsaved(() => this.formMerge.isUnsaved());
    effect(() => {
      const blog = this.session.blog();
      if (!blog) return;
      const { title, tagline, zone, firstWeekday } = blog;
      untracked(() => this.formMerge.meet({ title, tagline, zone, firstWeekday }));
    });
  }

  protected async keep(): Promise<void> {
    if (!isReady(this.form)) return;
    if (this.formMerge.mustChoose()) return;
    const body = this.form.getRawValue();
    const moves = body.zone !== this.session.blog()?.zone;
    const agreed =
      !moves ||
      (await confirm(this.dialogs, {
        heading: `Put the blog into the zone ${body.zone}?`,
        text:
          'Coming run times keep their wall times: what is set for 08:00 runs at 08:00, by the new clocks. What ' +
          'is out stays as it was.',
        act: 'Change the zone',
      }));
    if (!agreed) return;
    if (await this.act(() => this.changed(body), 'Saved. Readers see it now.')) this.formMerge.saved(body);
  }

  /** Another zone is asked about once more where readers would lose parts of serials. */
  private async changed(body: BlogChanges): Promise<unknown> {
    try {
      return await this.saving.save('blog.change', this.session.blog()!, body);
    } catch (error) {
      const sure =
        error instanceof ApiError && error.code === 'takes-away' && (await this.confirmLoss(error.message));
      if (!sure) throw error;
      return this.saving.save('blog.change', this.session.blog()!, { ...body, accepting: true });
    }
  }

  private confirmLoss(text: string): Promise<boolean> {
    return confirm(this.dialogs, {
      heading: 'Take it from readers who have it?',
      text,
      act: 'Change the zone all the same',
      grave: true,
    });
  }

  protected weigh(check: CheckKey, weight: CheckWeight): void {
    this.store({ checks: { [check]: weight } });
  }

  protected store(body: BlogChanges): void {
    void this.act(() => this.saving.save('blog.change', this.session.blog()!, body), 'Saved.');
  }

  protected nameOf(id: number): string {
    return this.session.categories().get(id)?.name ?? '';
  }
  protected merge({ from, into }: { from: CategoryView; into: number }): void {
    this.merging.set(null);
    void this.act(
      () =>
        this.api.call('categories.change', {
          id: from.id,
          ifMatch: from.version,
          body: { mergeInto: into },
        }),
      `“${from.name}” is merged into “${this.nameOf(into)}”.`,
    );
  }

  protected category(category: CategoryView, body: { name?: string; hue?: number }): void {
    void this.act(() => this.saving.save('categories.change', category, body), 'The category is changed.');
  }

  protected addCategory(): void {
    const used = new Set(this.session.blog()?.categories.map((c) => c.hue));
    const hue = this.hues.find((h) => !used.has(h)) ?? 1;
    void this.act(
      () => this.api.call('categories.add', { body: { name: this.newName.value, hue } }),
      'The category is added.',
    ).then((ok) => {
      if (ok) this.newName.reset();
    });
  }

  private async act(what: () => Promise<unknown>, sentence: string): Promise<boolean> {
    try {
      await what();
      await this.session.refresh();
      this.error.set('');
      this.messages.done(sentence);
      return true;
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
      return false;
    }
  }
}
