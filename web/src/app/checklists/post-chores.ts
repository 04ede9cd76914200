import { ChangeDetectionStrategy, Component, effect, inject, input, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatCheckbox, type MatCheckboxChange } from '@angular/material/checkbox';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltip } from '@angular/material/tooltip';
import type { ChecklistView, ChoreView } from '@keyroster/contract';
import { ASSIGNEES, formatChoreDue, type Assignee } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { landRefusal } from '../api/refusals';
import { Live } from '../api/live';
import { ErrorLine } from '../ui/error-line';
import { facts } from '../ui/facts';
import { ChoiceField, NumberField, TextField } from '../ui/fields';
import { Saving } from '../changes/saving.service';

/** Who can be given a chore of one post by hand; people by name are a checklist’s to give. */
const ROLES = ASSIGNEES.filter((a) => a !== 'person');

/** The checklist of a post: what is to be done, by whom and when, and what holds it back. */
@Component({
  selector: 'kr-post-chores',
  imports: [
    MatButton,
    MatIcon,
    MatIconButton,
    MatTooltip,
    MatCheckbox,
    MatMenuModule,
    ReactiveFormsModule,
    ErrorLine,
    ChoiceField,
    NumberField,
    TextField,
  ],
  templateUrl: './post-chores.html',
  styles: `
    button {
      white-space: nowrap;
    }
    ul {
      list-style: none;
      margin: 0 0 6px;
      padding: 0;
    }
    li {
      padding: 3px 0;
      border-bottom: 1px solid var(--hair);
    }
    small {
      display: block;
      color: var(--soft);
      &.late {
        color: var(--madder);
      }
    }
    .off {
      --mat-icon-button-state-layer-size: 24px;
      --mat-icon-button-icon-size: 16px;
      padding: 4px;
    }
    .row {
      flex-wrap: nowrap;
      display: flex;
      gap: 6px;
      align-items: center;
      justify-content: space-between;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PostChores {
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly session = inject(SessionService);
  readonly postId = input.required<number>();
  /** May this person put chores on the post, and take them off? */
  readonly mayChange = input(false);
  protected readonly chores = signal<ChoreView[]>([]);
  protected readonly checklists = signal<ChecklistView[]>([]);
  protected readonly error = signal('');
  protected readonly adding = signal(false);
  protected readonly assignees = ROLES;
  protected readonly form = new FormGroup({
    text: new FormControl('', { nonNullable: true }),
    assignee: new FormControl<Assignee>('writer', { nonNullable: true }),
    daysBefore: new FormControl<number | null>(2),
    holds: new FormControl(false, { nonNullable: true }),
  });

  constructor() {
    effect(() => void this.refresh(this.postId()));
    inject(Live).whenever(['note', 'post', 'blog'], () => this.refresh(this.postId()));
    void this.api
      .call('checklists.list', {})
      .then((lists) => this.checklists.set(lists))
      .catch(() => undefined);
  }

  protected words(chore: ChoreView): string {
    if (chore.done) return `done by ${chore.doneBy?.name ?? ''}`;
    return facts(
      chore.person?.name ?? `${chore.assignee}: nobody yet`,
      formatChoreDue(chore.due, this.session.today()),
      chore.holds && 'holds the post back',
    );
  }
  protected isLate(chore: ChoreView): boolean {
    return !chore.done && chore.due !== null && chore.due < this.session.today();
  }

  protected async tick(chore: ChoreView, { checked, source }: MatCheckboxChange): Promise<void> {
    await this.tried(() => this.saving.save('chores.change', chore, { done: checked }));
    // A box that was refused shows what is so, not what was wished.
    source.checked = this.chores().find((c) => c.id === chore.id)?.done ?? false;
  }
  protected remove(chore: ChoreView): void {
    void this.tried(() => this.saving.remove('chores.remove', chore));
  }
  protected attach(checklistId: number): void {
    void this.tried(() => this.api.call('chores.add', { id: this.postId(), body: { checklistId } }));
  }
  protected async add(): Promise<void> {
    const { daysBefore, ...chore } = this.form.getRawValue();
    try {
      await this.api.call('chores.add', {
        id: this.postId(),
        body: { chore: { ...chore, personId: null, daysBefore: daysBefore ?? 0 } },
      });
      this.form.reset();
      this.adding.set(false);
      this.error.set('');
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    }
    await this.refresh(this.postId());
  }

  private async tried(what: () => Promise<unknown>): Promise<void> {
    try {
      await what();
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
    await this.refresh(this.postId());
  }

  private async refresh(id: number): Promise<void> {
    const chores = await this.api.call('chores.list', { id }).catch(() => null);
    if (chores && id === this.postId()) this.chores.set(chores);
  }
}
