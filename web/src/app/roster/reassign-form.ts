import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import type { BatchPreview, PersonView } from '@keyroster/contract';
import { formatCount, formatList } from '@keyroster/core';
import { ArchiveService } from '../archive/archive.service';
import { BatchItems } from '../archive/batch-items';
import { BatchService } from '../archive/batch.service';
import { ErrorLine } from '../ui/error-line';
import { ChoiceField, DateField } from '../ui/fields';

/** Gives what somebody has in hand to somebody else: previewed post by post, applied as a batch. */
@Component({
  selector: 'kr-reassign-form',
  imports: [MatButton, ReactiveFormsModule, BatchItems, ErrorLine, ChoiceField, DateField],
  providers: [ArchiveService, BatchService],
  template: `
    <form [formGroup]="form" (ngSubmit)="look()" novalidate>
      <kr-choice label="To whom" formControlName="to" [options]="others()" none="choose" />
      <kr-date label="Runs from" formControlName="from" hint="Empty: everything" />
      <kr-date label="Runs until" formControlName="until" />
      <button matButton="outlined" type="submit" [disabled]="batch.looking()">Preview</button>
    </form>
    <kr-error [of]="batch.error()" />
    @if (batch.done()) {
      <p role="status">{{ batch.done() }}</p>
    }
    @if (batch.running(); as r) {
      <p role="status">{{ r.sentence }} … {{ r.done }} of {{ r.counts.changes }}</p>
    }
    @if (batch.preview(); as p) {
      <section class="preview" aria-label="Before it is written">
        <h3>{{ p.sentence }}</h3>
        <p class="soft">{{ sum(p) }}. It can be undone among the batches of the archive.</p>
        <kr-batch-items
          [items]="batch.items()"
          [total]="p.counts.changes + p.counts.same + p.counts.refused + p.counts.left"
          [choosable]="!batch.outdated()"
          (state)="batch.choose($event.postId, $event.state)"
          (more)="batch.more()"
        />
        <div class="row">
          <button matButton="filled" [disabled]="batch.outdated() || what(p) === ''" (click)="batch.apply()">
            Reassign {{ what(p) }}
          </button>
          <button matButton="outlined" (click)="batch.dismiss()">Cancel</button>
        </div>
      </section>
    }
  `,
  styles: `
    form {
      display: grid;
      grid-template-columns: repeat(3, minmax(0, 1fr)) auto;
      gap: 0 12px;
      align-items: start;
      button {
        margin-top: 20px;
      }
    }
    .preview {
      border: 1px solid var(--ink);
      border-radius: 4px;
      padding: 10px 12px;
      margin-top: 8px;
    }
    h3 {
      font: 600 15px var(--serif);
    }
    @media (max-width: 900px) {
      form {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ReassignForm {
  protected readonly batch = inject(BatchService);
  readonly person = input.required<PersonView>();
  readonly people = input.required<readonly PersonView[]>();
  protected readonly others = computed(() =>
    this.people().filter((p) => p.active && p.role !== 'reader' && p.id !== this.person().id),
  );
  protected readonly form = new FormGroup({
    to: new FormControl<number | null>(null),
    from: new FormControl('', { nonNullable: true }),
    until: new FormControl('', { nonNullable: true }),
  });
  protected readonly sum = ({ counts, chores }: BatchPreview) =>
    [
      `${counts.changes} will change`,
      `${counts.same} nothing to do`,
      `${counts.refused} refused`,
      ...(chores > 0
        ? [
            `${formatCount(chores, 'chore')} that ${chores === 1 ? 'names' : 'name'} them ${chores === 1 ? 'goes' : 'go'} along`,
          ]
        : []),
    ].join(' · ');
  /** What goes to somebody else, in words; empty where nothing does. */
  protected readonly what = ({ counts, chores }: BatchPreview) =>
    formatList([
      ...(counts.changes > 0 ? [formatCount(counts.changes, 'post')] : []),
      ...(chores > 0 ? [formatCount(chores, 'chore')] : []),
    ]);

  constructor() {
    // What was previewed is of the choice before.
    this.form.valueChanges.pipe(takeUntilDestroyed()).subscribe(() => this.batch.dismiss());
  }

  protected look(): void {
    const { to, from, until } = this.form.getRawValue();
    if (to === null) {
      this.batch.error.set('Choose who takes over.');
      return;
    }
    void this.batch.reassign(this.person().id, { to, from: from || null, until: until || null });
  }
}
