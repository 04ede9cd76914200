import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormControl, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { CHANGE_FIELDS, type ChangeKind, type ChangeView } from '@keyroster/contract';
import { formatClock, formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { SiteHead } from './site-head';
import { EmptyState } from '../ui/empty-state';
import { ErrorLine } from '../ui/error-line';
import { fieldLabel, valueInWords } from '../changes/field-words';
import { ChoiceField } from '../ui/fields';
import { Messages } from '../ui/messages.service';

/** What each kind is called on the screen. */
const KINDS: Record<ChangeKind, string> = {
  slot: 'Standing slot',
  absence: 'Absence',
  tag: 'Tag',
  category: 'Category',
  person: 'Person',
  profile: 'Profile',
  picture: 'Picture',
  subscriber: 'Subscriber',
  template: 'Template',
  chore: 'Chore',
  outlet: 'Outlet',
  format: 'Format',
  checklist: 'Checklist',
  campaign: 'Campaign',
  pattern: 'Rollout pattern',
  serial: 'Serial',
  special: 'Special',
  letter: 'Letter',
  blog: 'Blog',
  site: 'Readers’ pages',
};

/** Who changed what, from what to what, with an undo. */
@Component({
  imports: [ChoiceField, EmptyState, ErrorLine, MatButton, ReactiveFormsModule, SiteHead],
  templateUrl: './changes.page.html',
  styleUrl: './changes.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChangesPage {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  private readonly messages = inject(Messages);
  protected readonly kinds = [
    { value: '' as const, label: 'Everything' },
    ...(Object.keys(CHANGE_FIELDS) as ChangeKind[]).map((value) => ({ value, label: KINDS[value] })),
  ];
  protected readonly kind = new FormControl<ChangeKind | ''>('', { nonNullable: true });
  protected readonly changes = signal<ChangeView[] | null>(null);
  protected readonly more = signal(false);
  protected readonly error = signal('');
  protected readonly kindOf = (change: ChangeView) => KINDS[change.kind];
  private asked = 0;
  /** Of which kind what is shown is. */
  private shown: ChangeKind | '' = '';

  constructor() {
    void this.refresh();
    this.kind.valueChanges.subscribe(() => void this.refresh());
    inject(Live).whenever(['blog', 'people', 'media', 'note', 'letter', 'outlet', 'special'], () =>
      this.refresh(),
    );
  }

  protected when({ at }: ChangeView): string {
    const local = this.session.local(at).slice(0, 'YYYY-MM-DDTHH:MM'.length);
    return `${formatShortDate(local, this.session.today())} ${formatClock(local)}`;
  }

  /** Each field that differs, as it was and as it became. */
  protected fields({ was, became }: ChangeView): { label: string; was: string; became: string }[] {
    if (was === null || became === null) return [];
    const category = (id: number) => this.session.category(id)?.name ?? '';
    return Object.keys(became).map((field) => ({
      label: fieldLabel(field),
      was: valueInWords(was[field], field, { category }),
      became: valueInWords(became[field], field, { category }),
    }));
  }

  protected async undo(change: ChangeView): Promise<void> {
    try {
      await this.api.call('changes.undo', { id: change.id, body: {} });
      this.error.set('');
      this.messages.done(`The change to “${change.name}” is undone.`);
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
    await this.refresh();
  }

  protected async showMore(): Promise<void> {
    const shown = this.changes() ?? [];
    await this.load(shown, shown.at(-1)?.id);
  }

  /** The newest again; older ones that were asked for stay. */
  private async refresh(): Promise<void> {
    const older = this.shown === this.kind.value ? (this.changes() ?? []) : [];
    const hadMore = this.more();
    await this.load([]);
    const newest = this.changes() ?? [];
    const last = newest.at(-1)?.id ?? 0;
    const kept = older.filter((change) => change.id < last);
    // Where more came than fits on a page, what would stand after a gap is left out.
    if (kept.length === 0 || newest.every((change) => change.id > older[0]!.id)) return;
    this.changes.set([...newest, ...kept]);
    this.more.set(hadMore);
  }

  private async load(shown: readonly ChangeView[], before?: number): Promise<void> {
    const asked = ++this.asked;
    try {
      const kind = this.kind.value;
      const page = await this.api.call('changes.list', {
        query: { ...(kind ? { kind } : {}), ...(before ? { before } : {}) },
      });
      if (asked !== this.asked) return;
      this.changes.set([...shown, ...page.changes]);
      this.more.set(page.more);
      this.shown = kind;
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
