import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormArray, FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatDialog } from '@angular/material/dialog';
import type { ChecklistView, FormatView, NewChecklist, PersonView } from '@keyroster/contract';
import { ASSIGNEES, formatCount, type Assignee } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { confirm } from '../ui/confirm';
import { EmptyState } from '../ui/empty-state';
import { FormMerge } from '../ui/form-merge';
import { TwoValues } from '../ui/two-values';
import { ErrorLine } from '../ui/error-line';
import { ChoiceField, NumberField, TextField } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { PageHead } from '../ui/page-head';
import { Unsaved, watchUnsaved } from '../ui/unsaved';
import { Saving } from '../changes/saving.service';

const WHO: Record<Assignee, string> = {
  writer: 'the writer',
  editor: 'the editor',
  proofreader: 'the proofreader',
  person: 'a person …',
};

type ItemValue = NewChecklist['items'][number];
const itemGroup = (item?: { [K in keyof ItemValue]?: ItemValue[K] | null }) =>
  new FormGroup({
    id: new FormControl<number | null>(item?.id ?? null),
    text: new FormControl(item?.text ?? '', { nonNullable: true }),
    assignee: new FormControl<Assignee>(item?.assignee ?? 'writer', { nonNullable: true }),
    personId: new FormControl<number | null>(item?.personId ?? null),
    daysBefore: new FormControl<number | null>(item?.daysBefore ?? 2),
    holds: new FormControl(item?.holds ?? false, { nonNullable: true }),
  });

type ListValues = {
  name: string;
  items: ReturnType<ReturnType<typeof itemGroup>['getRawValue']>[];
  formats: readonly number[];
  categories: readonly number[];
};
const valuesOf = (list?: ChecklistView): ListValues => ({
  name: list?.name ?? '',
  items: (list?.items ?? [undefined]).map((item) => itemGroup(item).getRawValue()),
  formats: list?.formats ?? [],
  categories: list?.categories ?? [],
});

/** Checklists: what every post of a format or category needs, by whom, and how long before it runs. */
@Component({
  imports: [
    MatButton,
    MatCheckbox,
    ReactiveFormsModule,
    EmptyState,
    TwoValues,
    ErrorLine,
    ChoiceField,
    NumberField,
    TextField,
    PageHead,
  ],
  templateUrl: './checklists.page.html',
  styleUrls: ['../planner/side-page.scss', './checklists.page.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChecklistsPage {
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly messages = inject(Messages);
  private readonly dialogs = inject(MatDialog);
  private readonly unsaved = inject(Unsaved);
  protected readonly session = inject(SessionService);
  protected readonly lists = signal<ChecklistView[]>([]);
  protected readonly formats = signal<FormatView[]>([]);
  private readonly everybody = signal<PersonView[]>([]);
  protected readonly people = computed(() => this.everybody().filter((p) => p.active && p.role !== 'reader'));
  protected readonly who = ASSIGNEES.map((value) => ({ value, label: WHO[value] }));
  /** The list that is being changed; 0 is a new one. */
  protected readonly open = signal<number | null>(null);
  /** As it was seen. */
  private seen: ChecklistView | null = null;
  protected readonly chosenFormats = signal<ReadonlySet<number>>(new Set());
  protected readonly chosenCategories = signal<ReadonlySet<number>>(new Set());
  protected readonly error = signal('');
  protected readonly form = new FormGroup({
    name: new FormControl('', { nonNullable: true }),
    items: new FormArray<ReturnType<typeof itemGroup>>([itemGroup()]),
  });
  protected readonly count = (n: number) => formatCount(n, 'item');

  protected readonly merge = new FormMerge<ListValues>(this.form, {
    labels: { name: 'Name of the checklist', items: 'Items', formats: 'Formats', categories: 'Categories' },
    read: () => ({
      ...this.form.getRawValue(),
      ...{ formats: [...this.chosenFormats()], categories: [...this.chosenCategories()] },
    }),
    draw: {
      items: (items) => this.drawItems(items),
      formats: (ids) => this.chosenFormats.set(new Set(ids)),
      categories: (ids) => this.chosenCategories.set(new Set(ids)),
    },
    decided: {
      formats: (ids) => ids.toSorted((a, b) => a - b),
      categories: (ids) => ids.toSorted((a, b) => a - b),
    },
    say: {
      items: (items) => items.map((i) => `“${i.text}”`).join(', ') || 'empty',
      formats: (ids) => ids.map((id) => this.formats().find((f) => f.id === id)?.name).join(', ') || 'none',
      categories: (ids) => ids.map((id) => this.session.category(id)?.name).join(', ') || 'none',
    },
  });

  constructor() {
    watchUnsaved(() => this.merge.isUnsaved());
    // The first is open, so that one sees at once what a checklist is made of.
    void this.refresh().then(() => this.open() ?? this.show(this.lists()[0]));
    inject(Live).whenever(['blog', 'people'], () => this.refresh());
  }

  protected for(list: ChecklistView): string {
    const names = [
      ...list.categories.map((id) => this.session.category(id)?.name ?? ''),
      ...list.formats.map((id) => this.formats().find((f) => f.id === id)?.name ?? ''),
    ].filter(Boolean);
    return names.length === 0 ? 'by hand only' : names.join(', ');
  }

  protected async edit(list: ChecklistView | null): Promise<void> {
    if (!(await this.unsaved.mayLeave())) return;
    if (list) return this.show(list);
    this.show();
    this.open.set(0);
  }
  private show(list?: ChecklistView): void {
    this.open.set(list?.id ?? null);
    this.seen = list ?? null;
    this.error.set('');
    this.merge.open(valuesOf(list));
  }
  private drawItems(items: ListValues['items']): void {
    this.form.controls.items.clear();
    for (const item of items) this.form.controls.items.push(itemGroup(item));
  }
  /** Shows what is kept, where something was changed; of a new one nothing is. */
  protected reset(): void {
    const lists = this.lists();
    this.show(lists.find((l) => l.id === this.open()) ?? lists[0]);
  }
  protected add(): void {
    this.form.controls.items.push(itemGroup());
  }
  protected drop(index: number): void {
    this.form.controls.items.removeAt(index);
    this.form.markAsDirty();
  }
  protected choose(which: 'formats' | 'categories', id: number, chosen: boolean): void {
    const of = which === 'formats' ? this.chosenFormats : this.chosenCategories;
    of.update((ids) => new Set(chosen ? [...ids, id] : [...ids].filter((x) => x !== id)));
    this.form.markAsDirty();
  }

  protected async save(): Promise<void> {
    const { name, items } = this.form.getRawValue();
    const body: NewChecklist = {
      name,
      formats: [...this.chosenFormats()],
      categories: [...this.chosenCategories()],
      items: items
        .filter((i) => i.text.trim() !== '')
        .map((i) => ({
          ...i,
          daysBefore: i.daysBefore ?? 0,
          personId: i.assignee === 'person' ? i.personId : null,
        })),
    };
    if (name.trim() === '' || body.items.length === 0) {
      this.error.set('Give it a name and at least one item.');
      return;
    }
    if (this.merge.mustChoose()) return;
    const id = this.open()!;
    const sent = this.merge.values();
    try {
      const saved =
        id === 0
          ? await this.api.call('checklists.add', { body })
          : await this.saving.save('checklists.change', this.seen!, body);
      // Who has gone on to another list stays there.
      if (this.open() === id) {
        this.open.set(saved.id);
        this.seen = saved;
        this.error.set('');
        this.merge.saved(sent, valuesOf(saved));
      }
      this.messages.done(`Saved “${name}”. Posts under way that it is for have it now.`);
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
    await this.refresh();
  }

  protected async remove(list: ChecklistView): Promise<void> {
    const sure = await confirm(this.dialogs, {
      heading: `Delete “${list.name}”?`,
      text: 'What of it is not done yet goes from all posts. What is done stays.',
      act: 'Delete',
      grave: true,
    });
    if (!sure) return;
    try {
      await this.saving.remove('checklists.remove', list);
      await this.refresh();
      this.show(this.lists()[0]);
    } catch (error) {
      this.error.set(sentenceOf(error));
      await this.refresh();
    }
  }

  private async refresh(): Promise<void> {
    const [lists, formats, people] = await Promise.all([
      this.api.call('checklists.list', {}).catch(() => null),
      this.api.call('formats.list', {}).catch(() => null),
      this.api.call('people.list', {}).catch(() => null),
    ]);
    if (lists) this.lists.set(lists);
    const now = lists?.find((l) => l.id === this.open());
    if (now && now.version !== this.seen?.version) {
      this.seen = now;
      this.merge.meet(valuesOf(now));
    }
    if (formats) this.formats.set(formats);
    if (people) this.everybody.set(people);
  }
}
