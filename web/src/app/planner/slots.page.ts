import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { NewSlot, SlotAnswer } from '@keyroster/contract';
import {
  WEEKDAYS,
  nextDates,
  formatSlot,
  formatShortDate,
  formatWhen,
  type SlotException,
  type StandingSlot,
} from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { CategoryTab } from '../site/category-tab';
import {
  ChoiceField,
  ClockField,
  DateField,
  FieldSet,
  NumberField,
  SuggestField,
  choicesOf,
} from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { Unsaved, watchUnsaved } from '../ui/unsaved';

/** So many of the next dates are shown. */
const COMING = 8;
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
  ],
  templateUrl: './slots.page.html',
  styleUrl: './side-page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SlotsPage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  private readonly unsaved = inject(Unsaved);
  protected readonly weekdays = WEEKDAYS.map((label, i) => ({ value: i + 1, label }));
  protected readonly categories = computed(() => choicesOf(this.session.blog()?.categories ?? []));
  /** The blog's formats are proposed; a slot may ask for another in its own words. */
  protected readonly formats = signal<string[]>([]);
  protected readonly slots = computed(() => this.session.blog()?.slots ?? []);
  protected readonly manages = () => this.session.may('manageBlog');
  /** The slot that is looked at; null for a new one. */
  protected readonly chosen = signal<number | null>(null);
  protected readonly draft = signal<NewSlot | null>(null);
  private readonly stored = signal('');
  /** A new slot that nobody has touched is left without a word. */
  private touched = false;
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

  constructor() {
    watchUnsaved(() => this.manages() && this.touched && this.changed());
    void this.api
      .call('formats.list', {})
      .then((formats) => this.formats.set(formats.map((f) => f.name)))
      .catch(() => undefined);
    // A moment after the last change the server is asked what it would do.
    effect((cleanup) => {
      const slot = this.draft();
      const id = this.chosen();
      if (!slot || !this.manages() || !this.changed()) return;
      const timer = setTimeout(() => void this.weigh(id, slot), 250);
      cleanup(() => clearTimeout(timer));
    });
  }

  protected async choose(slot: StandingSlot): Promise<void> {
    if (!(await this.unsaved.mayLeave())) return;
    const rule = ruleOf(slot);
    this.chosen.set(slot.id);
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
    this.touched = false;
    this.draft.set(rule);
    this.answer.set(null);
    this.moving.set(null);
    this.error.set('');
  }

  protected leave(): void {
    this.draft.set(null);
    this.chosen.set(null);
  }

  protected set(part: Partial<NewSlot>): void {
    this.touched = true;
    this.draft.update((d) => d && { ...d, ...part });
  }

  protected except(exception: SlotException): void {
    this.set({
      exceptions: [...this.draft()!.exceptions.filter((e) => e.date !== exception.date), exception].sort(
        (a, b) => a.date.localeCompare(b.date),
      ),
    });
    this.moving.set(null);
  }

  protected asUsual(date: string): void {
    this.set({ exceptions: this.draft()!.exceptions.filter((e) => e.date !== date) });
  }

  protected move(date: string, movedTo: string, time: string): void {
    if (!movedTo) this.error.set('Choose the date it moves to.');
    else if (!time) this.error.set('Type the time like 08:00.');
    else {
      this.error.set('');
      this.except({ date, movedTo, movedTime: time === this.draft()!.time ? null : time });
    }
  }

  private async weigh(id: number | null, slot: NewSlot): Promise<void> {
    try {
      this.answer.set(await this.api.call('slots.weigh', { body: { id, slot } }));
      this.error.set('');
    } catch (error) {
      this.answer.set(null);
      this.error.set(sentenceOf(error));
    }
  }

  protected async store(): Promise<void> {
    const body = this.draft()!;
    const id = this.chosen();
    const before = this.stored();
    const blog = await this.act(() =>
      id === null ? this.api.call('slots.add', { body }) : this.api.call('slots.change', { id, body }),
    );
    if (!blog) return;
    this.leave();
    if (id === null) this.messages.done(`“${this.say(body)}” is on the calendar.`);
    else
      this.messages.done(`Saved: ${this.say(body)}. Posts keep their run times.`, async () => {
        await this.act(() => this.api.call('slots.change', { id, body: JSON.parse(before) as NewSlot }));
      });
  }

  protected async remove(): Promise<void> {
    const id = this.chosen()!;
    const before = JSON.parse(this.stored()) as NewSlot;
    const answer = await this.api.call('slots.weigh', { body: { id, slot: null } }).catch(() => null);
    if (!(await this.act(() => this.api.call('slots.remove', { id })))) return;
    this.leave();
    this.messages.done(
      `“${this.say(before)}” is off the ` +
        `calendar.${answer && answer.loses.length > 0 ? ` ${answer.loses.length === 1 ? 'One post stands' : `${answer.loses.length} posts stand`} in no slot now and keep${answer.loses.length === 1 ? 's its run time' : ' their run times'}.` : ' Posts keep their run times.'}`,
      async () => {
        await this.act(() => this.api.call('slots.add', { body: before }));
      },
    );
  }

  private async act<T>(what: () => Promise<T>): Promise<T | null> {
    this.busy.set(true);
    try {
      const done = await what();
      await this.session.refresh();
      this.error.set('');
      return done;
    } catch (error) {
      this.error.set(sentenceOf(error));
      return null;
    } finally {
      this.busy.set(false);
    }
  }
}
