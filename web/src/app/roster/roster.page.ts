import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatCheckbox, type MatCheckboxChange } from '@angular/material/checkbox';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { PersonChanges, PersonView } from '@keyroster/contract';
import { ROLES, type Role } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { landRefusal } from '../api/refusals';
import { Live } from '../api/live';
import { PersonBadge } from '../ui/person-badge';
import { Messages } from '../ui/messages.service';
import { ChoiceField, TextField } from '../ui/fields';
import { watchUnsaved } from '../ui/unsaved';
import { ErrorLine } from '../ui/error-line';
import { PageHead } from '../ui/page-head';
import { MatSortModule } from '@angular/material/sort';
import { Sorted } from '../ui/sorted';
import { Invites } from './invites';
import { Saving } from '../changes/saving.service';

/** The people of the newsroom and what they may do. The managing editor adds and changes them here. */
@Component({
  imports: [
    MatCheckbox,
    MatButton,
    PersonBadge,
    ReactiveFormsModule,
    RouterLink,
    ChoiceField,
    TextField,
    ErrorLine,
    PageHead,
    MatSortModule,
    Invites,
  ],
  templateUrl: './roster.page.html',
  styleUrl: './roster.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RosterPage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly messages = inject(Messages);
  protected readonly roles = ROLES;
  protected readonly form = new FormGroup({
    name: new FormControl('', { nonNullable: true }),
    email: new FormControl('', { nonNullable: true }),
    password: new FormControl('', { nonNullable: true }),
    role: new FormControl<Role>('contributor', { nonNullable: true }),
  });
  protected readonly people = signal<PersonView[]>([]);
  protected readonly error = signal('');
  protected readonly sorted = new Sorted<PersonView>(() => this.people(), {
    name: (p) => p.name,
    role: (p) => ROLES.indexOf(p.role),
    email: (p) => p.email,
  });
  protected readonly manages = () => this.session.may('managePeople');

  constructor() {
    watchUnsaved(() => this.form.dirty);
    void this.refresh();
    inject(Live).whenever(['people', 'blog'], () => this.refresh());
  }

  protected names(p: PersonView): string {
    return p.categories.map((id) => this.session.category(id)?.name ?? '').join(', ');
  }

  protected async give(
    p: PersonView,
    categoryId: number,
    { checked, source }: MatCheckboxChange,
  ): Promise<void> {
    const others = p.categories.filter((id) => id !== categoryId);
    await this.change(p, { categories: checked ? [...others, categoryId] : others });
    // A box that was refused shows what is so, not what was wished.
    source.checked = this.people().some((x) => x.id === p.id && x.categories.includes(categoryId));
  }

  protected async change(p: PersonView, changes: PersonChanges): Promise<void> {
    try {
      await this.saving.save('people.change', p, changes);
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
    await this.refresh();
  }

  protected async add(): Promise<void> {
    try {
      const person = await this.api.call('people.add', {
        body: { ...this.form.getRawValue(), categories: [] },
      });
      this.form.reset();
      this.error.set('');
      this.messages.done(`${person.name} is on the roster as ${person.role}.`);
      await this.refresh();
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    }
  }

  private async refresh(): Promise<void> {
    this.people.set(await this.api.call('people.list', {}).catch(() => this.people()));
  }
}
