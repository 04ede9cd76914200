import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { Title } from '@angular/platform-browser';
import { MatAnchor, MatButton } from '@angular/material/button';
import { MatCheckbox, type MatCheckboxChange } from '@angular/material/checkbox';
import { MatDialog } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import {
  NOTIFY,
  type InHand,
  type Notify,
  type PersonChanges,
  type PersonPage as PersonPageView,
  type PersonView,
  type ProfileChanges,
} from '@keyroster/contract';
import {
  formatAbsence,
  formatClock,
  formatCount,
  formatHour,
  formatLeadTime,
  formatShortDate,
  wallTimeOf,
} from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { BittingMark } from '../ui/bitting-mark';
import { confirm } from '../ui/confirm';
import { EmptyState } from '../ui/empty-state';
import { ErrorLine } from '../ui/error-line';
import { facts } from '../ui/facts';
import { ChoiceField, NumberField } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { PageHead } from '../ui/page-head';
import { PlaceFigures } from '../results/place-figures';
import { SectionHead } from '../ui/section-head';
import { ReassignForm } from './reassign-form';
import { ProfileForm } from './profile-form';
import { Saving } from '../changes/saving.service';

const WISHES: Record<Notify, string> = {
  today: 'On Today',
  digest: 'On Today, and one mail a day',
  none: 'On Today, and never by mail',
};
const HOURS = Array.from({ length: 24 }, (_, hour) => ({
  value: hour,
  label: formatHour(hour),
}));

/** One person: what they do and have in hand, how quick they are, and what the readers’ pages tell of them. */
@Component({
  imports: [
    MatAnchor,
    MatButton,
    MatCheckbox,
    RouterLink,
    BittingMark,
    EmptyState,
    ErrorLine,
    ChoiceField,
    NumberField,
    PageHead,
    PlaceFigures,
    SectionHead,
    ReassignForm,
    ProfileForm,
  ],
  templateUrl: './person.page.html',
  styleUrl: './person.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PersonPage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly messages = inject(Messages);
  private readonly dialogs = inject(MatDialog);
  private readonly title = inject(Title);
  readonly id = input.required<string>();
  protected readonly person = signal<PersonPageView | null>(null);
  protected readonly everybody = signal<PersonView[]>([]);
  protected readonly error = signal('');
  protected readonly wishes = NOTIFY.map((value) => ({ value, label: WISHES[value] }));
  protected readonly hours = HOURS;
  protected readonly lead = formatLeadTime;
  protected readonly facts = facts;
  protected readonly isMe = computed(() => this.person()?.id === this.session.me()?.id);
  protected readonly manages = computed(() => this.session.may('managePeople'));
  protected readonly writesHere = computed(() =>
    ['managing editor', 'editor', 'contributor'].includes(this.person()?.role ?? ''),
  );
  /** What it is o’clock where they are, when that is somewhere else. */
  protected readonly clock = computed(() => {
    const zone = this.person()?.zone;
    return zone && zone !== this.session.blog()?.zone
      ? `${formatClock(wallTimeOf(new Date().toISOString(), zone)).slice(0, 5)} there now, ${zone}`
      : '';
  });
  protected readonly onTime = computed(() => {
    const { of, count } = this.person()?.pace.onTime ?? { of: 0, count: 0 };
    return count === 0 ? 'too few to tell' : `${of} of ${formatCount(count, 'post')}`;
  });

  constructor() {
    effect(() => void this.refresh(Number(this.id())));
    void this.api
      .call('people.list', {})
      .then((people) => this.everybody.set(people))
      .catch(() => undefined);
    inject(Live).whenever(['people', 'post', 'blog'], () => this.refresh(Number(this.id())));
  }

  protected when(post: InHand): string {
    const today = this.session.today();
    return this.facts(
      post.runLocal &&
        `runs ${formatShortDate(post.runLocal.slice(0, 10), today)} ${formatClock(post.runLocal)}`,
      post.copyDate && `copy due ${formatShortDate(post.copyDate, today)}`,
    );
  }
  protected readonly away = (absence: { from: string; to: string }) =>
    formatAbsence(absence, this.session.today());

  protected show(person: PersonPageView): void {
    this.person.set(person);
  }

  protected has(categoryId: number): boolean {
    return this.person()?.writes.includes(categoryId) ?? false;
  }
  protected async writes(categoryId: number, { checked, source }: MatCheckboxChange): Promise<void> {
    const writes = this.person()!.writes.filter((id) => id !== categoryId);
    await this.change({ writes: checked ? [...writes, categoryId] : writes });
    // A box that was refused shows what is so, not what was wished.
    source.checked = this.has(categoryId);
  }

  protected async change(changes: PersonChanges): Promise<void> {
    await this.tried(async () => {
      await this.saving.save('people.change', this.person()!, changes);
    });
    await this.refresh(Number(this.id()));
  }

  protected async wish(changes: ProfileChanges): Promise<void> {
    await this.tried(async () =>
      this.person.set(await this.saving.save('people.profile', this.person()!, changes)),
    );
  }

  protected async setActive(active: boolean): Promise<void> {
    const p = this.person()!;
    if (!active) {
      const hand = p.inHand.length;
      const sure = await confirm(this.dialogs, {
        heading: `Deactivate ${p.name}?`,
        text:
          'They are signed out and cannot sign in any more. Their posts keep their bylines.' +
          (hand > 0 ? ` ${formatCount(hand, 'post')} in hand stay with them: reassign them first.` : ''),
        act: 'Deactivate',
        grave: true,
      });
      if (!sure) return;
    }
    await this.change({ active });
    if (this.error() === '')
      this.messages.done(active ? `${p.name} can sign in again.` : `${p.name} is deactivated.`, () =>
        this.change({ active: !active }),
      );
  }

  private async tried(what: () => Promise<unknown>): Promise<void> {
    try {
      await what();
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  private async refresh(id: number): Promise<void> {
    try {
      const person = await this.api.call('people.see', { id });
      if (id !== Number(this.id())) return;
      this.person.set(person);
      this.title.setTitle(`${person.name} · Key Roster`);
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
