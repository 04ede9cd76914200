import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatAnchor, MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { AbsenceView, PersonView } from '@keyroster/contract';
import { daysBetween, formatAbsence, formatCount, formatShortDate, startOfWeek } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { ChoiceField, DateField, TextField } from '../ui/fields';
import { PersonBadge } from '../ui/person-badge';
import { Messages } from '../ui/messages.service';
import { ErrorLine } from '../ui/error-line';
import { PageHead } from '../ui/page-head';
import { MatSortModule } from '@angular/material/sort';
import { Sorted } from '../ui/sorted';
import { Saving } from '../changes/saving.service';

/** Who is away and when. Everybody enters their own; the managing editor enters anybody's. */
@Component({
  imports: [
    ChoiceField,
    DateField,
    MatAnchor,
    MatButton,
    RouterLink,
    PersonBadge,
    ReactiveFormsModule,
    TextField,
    ErrorLine,
    PageHead,
    MatSortModule,
  ],
  templateUrl: './absences.page.html',
  styleUrl: './side-page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AbsencesPage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly messages = inject(Messages);
  protected readonly absences = signal<AbsenceView[]>([]);
  private readonly everybody = signal<PersonView[]>([]);
  /** Whom this person may enter an absence for. */
  protected readonly people = computed(() =>
    this.everybody().filter(
      (p) =>
        p.active &&
        p.role !== 'reader' &&
        (this.session.me()?.role === 'managing editor' || p.id === this.session.me()?.id),
    ),
  );
  protected readonly sorted = new Sorted<AbsenceView>(() => this.absences(), {
    who: (a) => a.person.name,
    from: (a) => a.from,
    to: (a) => a.to,
  });
  protected readonly form = new FormGroup({
    personId: new FormControl(this.session.me()?.id ?? null),
    from: new FormControl('', { nonNullable: true }),
    to: new FormControl('', { nonNullable: true }),
    note: new FormControl('', { nonNullable: true }),
  });
  protected readonly editing = signal<number | null>(null);
  protected readonly error = signal('');
  private readonly today = this.session.today();
  protected readonly short = (date: string) => formatShortDate(date, this.today);
  /** The week in which a day is. */
  protected readonly week = (date: string) => startOfWeek(date, this.session.blog()?.firstWeekday);
  protected readonly words = (a: AbsenceView) => formatAbsence(a, this.today);
  protected readonly length = (a: AbsenceView) => formatCount(daysBetween(a.from, a.to) + 1, 'day');

  constructor() {
    void this.refresh();
    inject(Live).whenever(['people'], () => this.refresh());
    // A single day is its own last one, until another is typed.
    const { from, to } = this.form.controls;
    from.valueChanges.pipe(takeUntilDestroyed()).subscribe((day) => {
      if (to.pristine) to.setValue(day);
    });
  }

  protected add(): void {
    const { personId, from, to, note } = this.form.getRawValue();
    if (!personId || !from || !to) {
      this.error.set('Choose the first and the last day.');
      return;
    }
    void this.act(async () => {
      const a = await this.api.call('absences.add', { body: { personId, from, to, note } });
      this.form.reset({ personId, from: '', to: '', note: '' });
      this.messages.done(`${a.person.name} is ${this.words(a)}.`, () =>
        this.act(() => this.saving.remove('absences.remove', a)),
      );
    });
  }

  protected change(a: AbsenceView, from: string, to: string, note: string): void {
    // A day that cannot be read is not the day that stood there before.
    if (!from || !to) {
      this.error.set('Choose the first and the last day.');
      return;
    }
    void this.act(async () => {
      const done = await this.saving.save('absences.change', a, { from, to, note });
      this.editing.set(null);
      this.messages.done(`${done.person.name} is ${this.words(done)}.`, () =>
        this.act(() => this.saving.save('absences.change', done, { from: a.from, to: a.to, note: a.note })),
      );
    });
  }

  protected remove(a: AbsenceView): void {
    void this.act(async () => {
      await this.saving.remove('absences.remove', a);
      this.messages.done(`${a.person.name} is not ${this.words(a)} any more.`, () =>
        this.act(() =>
          this.api.call('absences.add', {
            body: { personId: a.personId, from: a.from, to: a.to, note: a.note },
          }),
        ),
      );
    });
  }

  private async act(what: () => Promise<unknown>): Promise<void> {
    try {
      await what();
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
    await this.refresh();
  }

  private async refresh(): Promise<void> {
    const [absences, people] = await Promise.all([
      this.api.call('absences.list', {}).catch(() => null),
      this.api.call('people.list', {}).catch(() => null),
    ]);
    if (absences) this.absences.set(absences);
    if (people) this.everybody.set(people);
  }
}
