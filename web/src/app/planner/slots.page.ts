import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { FormControl, FormGroup, ReactiveFormsModule, Validators } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { catchError, debounceTime, filter, map, merge, of, switchMap } from 'rxjs';
import type { NewSlot, SlotAnswer, SlotView } from '@keyroster/contract';
import {
  WEEKDAYS,
  nextDates,
  formatSlot,
  formatShortDate,
  formatWhen,
  type SlotException,
} from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { landRefusal } from '../api/refusals';
import { CategoryTab } from '../site/category-tab';
import {
  ChoiceField,
  ClockField,
  DateField,
  FieldSet,
  NumberField,
  SuggestField,
  isReady,
  textControl,
} from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { Unsaved, watchUnsaved } from '../ui/unsaved';
import { ErrorLine } from '../ui/error-line';
import { PageHead } from '../ui/page-head';
import { Saving } from '../changes/saving.service';

/** So many of the next dates are shown. */
const COMING = 8;
/** The server is asked what a change would do when nothing more is typed for so long. */
const QUIET_MS = 250;
const ruleOf = ({
  weekday,
  time,
  categoryId,
  format,
  from,
  until,
  everyWeeks,
  exceptions,
}: NewSlot): NewSlot => ({ weekday, time, categoryId, format, from, until, everyWeeks, exceptions });

/**
 * The recurring openings on the calendar: what recurs, which dates are skipped or moved, and what a change
 * does to posts.
 */
@Component({
  imports: [
    CategoryTab,
    ChoiceField,
    ClockField,
    DateField,
    FieldSet,
    MatButton,
    NumberField,
    RouterLink,
    SuggestField,
    ErrorLine,
    PageHead,
    ReactiveFormsModule,
  ],
  templateUrl: './slots.page.html',
  styleUrl: './side-page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SlotsPage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly messages = inject(Messages);
  private readonly unsaved = inject(Unsaved);
  protected readonly weekdays = WEEKDAYS.map((label, i) => ({ value: i + 1, label }));
  protected readonly categories = computed(() => this.session.blog()?.categories ?? []);
  /** The blog's formats are proposed; a slot may ask for another in its own words. */
  protected readonly formats = signal<string[]>([]);
  protected readonly slots = computed(() => this.session.blog()?.slots ?? []);
  protected readonly manages = () => this.session.may('manageBlog');
  /** The slot that is looked at; null for a new one. */
  protected readonly chosen = signal<number | null>(null);
  /** The chosen slot as it was when it was opened. */
  private opened: SlotView | null = null;
  protected readonly form = new FormGroup({
    weekday: new FormControl(1, { nonNullable: true }),
    time: textControl('', Validators.required),
    everyWeeks: new FormControl<number | null>(1, Validators.required),
    categoryId: new FormControl(0, { nonNullable: true }),
    format: textControl(),
    from: textControl(),
    until: textControl(),
    exceptions: new FormControl<SlotException[]>([], { nonNullable: true }),
  });
  /** The slot as the form has it, while one is open. */
  protected readonly draft = signal<NewSlot | null>(null);
  private readonly stored = signal('');
  protected readonly moving = signal<string | null>(null);
  protected readonly answer = signal<SlotAnswer | null>(null);
  protected readonly error = signal('');
  protected readonly busy = signal(false);
  protected readonly changed = computed(
    () => this.draft() !== null && JSON.stringify(this.draft()) !== this.stored(),
  );
  protected readonly today = this.session.today();
  protected readonly short = (date: string) => formatShortDate(date, this.today);
  protected readonly when = (local: string) => formatWhen(local, this.today);
  protected readonly say = (slot: NewSlot) => formatSlot(slot, this.today);
  protected readonly coming = computed(() => {
    const d = this.draft();
    return d && d.time !== '' && d.everyWeeks >= 1 ? nextDates(d, this.today, COMING) : [];
  });

  private shown = false;

  constructor() {
    // The first is open, so that one sees at once what a slot is made of.
    effect(() => {
      const [first] = this.slots();
      if (!first || this.shown) return;
      this.shown = true;
      untracked(() => void this.choose(first));
    });
    // A new slot that nobody has touched is left without a word.
    watchUnsaved(() => this.manages() && this.form.dirty && this.changed());
    void this.api
      .call('formats.list', {})
      .then((formats) => this.formats.set(formats.map((f) => f.name)))
      .catch(() => undefined);
    this.form.valueChanges.pipe(takeUntilDestroyed()).subscribe(() => this.draft.set(this.read()));
    // Exceptions are dates of the rule: another rule has other dates.
    const { weekday, everyWeeks, from, exceptions } = this.form.controls;
    merge(weekday.valueChanges, everyWeeks.valueChanges, from.valueChanges)
      .pipe(takeUntilDestroyed())
      .subscribe(() => exceptions.setValue([]));
    toObservable(this.draft)
      .pipe(
        debounceTime(QUIET_MS),
        filter((slot) => slot !== null && this.manages() && this.changed() && this.form.valid),
        switchMap((slot) =>
          this.api.request('slots.weigh', { body: { id: this.chosen(), slot } }).pipe(
            map((answer) => ({ answer, error: '' })),
            catchError((error: unknown) => of({ answer: null, error: sentenceOf(error) })),
          ),
        ),
        takeUntilDestroyed(),
      )
      .subscribe(({ answer, error }) => {
        this.answer.set(answer);
        this.error.set(error);
      });
  }

  private read(): NewSlot {
    const { everyWeeks, format, from, until, ...rest } = this.form.getRawValue();
    return {
      ...rest,
      everyWeeks: everyWeeks ?? 0,
      format: format.trim(),
      from: from || null,
      until: until || null,
    };
  }

  protected async choose(slot: SlotView): Promise<void> {
    if (!(await this.unsaved.mayLeave())) return;
    const rule = ruleOf(slot);
    this.chosen.set(slot.id);
    this.opened = slot;
    this.stored.set(JSON.stringify(rule));
    this.open(rule);
  }

  protected async begin(): Promise<void> {
    if (!(await this.unsaved.mayLeave())) return;
    this.chosen.set(null);
    this.stored.set('');
    this.open({
      weekday: 1,
      time: '08:00',
      categoryId: this.session.blog()!.categories[0]!.id,
      format: '',
      from: null,
      until: null,
      everyWeeks: 1,
      exceptions: [],
    });
  }

  private open(rule: NewSlot): void {
    // Drawn without being told as a change, which would throw the exceptions away.
    this.form.reset({ ...rule, from: rule.from ?? '', until: rule.until ?? '' }, { emitEvent: false });
    this.draft.set(rule);
    this.answer.set(null);
    this.moving.set(null);
    this.error.set('');
  }

  protected leave(): void {
    this.draft.set(null);
    this.chosen.set(null);
  }

  protected except(exception: SlotException): void {
    this.exceptions([...this.othersThan(exception.date), exception]);
    this.moving.set(null);
  }

  protected asUsual(date: string): void {
    this.exceptions(this.othersThan(date));
  }

  private othersThan(date: string): SlotException[] {
    return this.form.controls.exceptions.value.filter((e) => e.date !== date);
  }

  private exceptions(exceptions: SlotException[]): void {
    const control = this.form.controls.exceptions;
    control.setValue(exceptions.sort((a, b) => a.date.localeCompare(b.date)));
    control.markAsDirty();
  }

  protected move(date: string, movedTo: string, time: string): void {
    if (!movedTo) this.error.set('Choose the date it moves to.');
    else if (!time) this.error.set('Type the time like 08:00.');
    else {
      this.error.set('');
      this.except({ date, movedTo, movedTime: time === this.draft()!.time ? null : time });
    }
  }

  protected async store(): Promise<void> {
    if (!isReady(this.form)) return;
    const body = this.read();
    const { opened } = this;
    const isNew = this.chosen() === null || opened === null;
    const blog = await this.act(() =>
      isNew ? this.api.call('slots.add', { body }) : this.saving.save('slots.change', opened, body),
    );
    if (!blog) return;
    this.leave();
    if (isNew) this.messages.done(`“${this.say(body)}” is on the calendar.`);
    else
      this.messages.done(`Saved: ${this.say(body)}. Posts keep their run times.`, async () => {
        const now = this.slots().find((s) => s.id === opened.id);
        if (now) await this.act(() => this.saving.save('slots.change', now, ruleOf(opened)));
      });
  }

  protected async remove(): Promise<void> {
    const opened = this.opened!;
    const before = ruleOf(opened);
    const answer = await this.api
      .call('slots.weigh', { body: { id: opened.id, slot: null } })
      .catch(() => null);
    if (!(await this.act(() => this.saving.remove('slots.remove', opened)))) return;
    this.leave();
    const lost = answer?.loses.length ?? 0;
    const posts =
      lost === 0
        ? 'Posts keep their run times.'
        : lost === 1
          ? 'One post stands in no slot now and keeps its run time.'
          : `${lost} posts stand in no slot now and keep their run times.`;
    this.messages.done(`“${this.say(before)}” is off the calendar. ${posts}`, async () => {
      await this.act(() => this.api.call('slots.add', { body: before }));
    });
  }

  private async act<T>(what: () => Promise<T>): Promise<T | null> {
    this.busy.set(true);
    try {
      const done = await what();
      await this.session.refresh();
      this.error.set('');
      return done;
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
      return null;
    } finally {
      this.busy.set(false);
    }
  }
}
