import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { FormatView, NewSlot, SlotAnswer } from '@keyroster/contract';
import { WEEKDAYS, nextDates, saySlot, sayShortDate, sayWhen, type SlotException, type StandingSlot } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { CategoryTab } from '../ui/category-tab';
import { Say } from '../ui/say.service';

/** Kinds of posts that a slot may ask for; any other word will do. */
const COMING = 8;
const ruleOf = ({ weekday, time, categoryId, format, from, until, everyWeeks, exceptions }: NewSlot): NewSlot => ({ weekday, time, categoryId, format, from, until, everyWeeks, exceptions });

/** The recurring openings on the calendar: what recurs, which dates are skipped or moved, and what a change does to posts. */
@Component({
  imports: [RouterLink, CategoryTab],
  template: `
    <div class="screen">
      <p class="back"><a routerLink="/planner">Planner</a></p>
      <h1>Standing slots</h1>
      <p class="soft lead">What the blog wants to have on its calendar. The runway and the rhythm count them; a slot’s date without a post is open.@if (!manages()) { The managing editor changes them. }</p>
      <div class="columns">
        <section aria-label="The slots">
          <ul class="slots">@for (s of slots(); track s.id) {
            <li [class.on]="s.id === chosen()"><button [attr.aria-pressed]="s.id === chosen()" (click)="choose(s)"><b>{{ say(s) }}</b><span><kr-category [id]="s.categoryId" />{{ s.format ? ' · ' + s.format : '' }}@if (s.exceptions.length > 0) { · {{ s.exceptions.length === 1 ? '1 date' : s.exceptions.length + ' dates' }} not as usual }</span></button></li>
          } @empty { <li class="soft">No standing slot yet. A good first one: the weekday and hour your readers already expect.</li> }</ul>
          @if (manages() && (session.blog()?.categories ?? []).length > 0) { <button class="btn" [class.act]="slots().length === 0" (click)="begin()">New slot</button> }
          @else if (manages()) { <p>Slots belong to a category. <a routerLink="/site">Add a category first.</a></p> }
        </section>
        @if (draft(); as d) {
          <section aria-label="Slot" class="sheet">
            <h2>{{ chosen() === null ? 'New slot' : say(d) }}</h2>
            @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
            <form (submit)="$event.preventDefault(); store()" novalidate>
              <fieldset [disabled]="!manages()">
                <div class="grid">
                  <label class="field"><span>Weekday</span><select (change)="set({ weekday: +$any($event.target).value, exceptions: [] })">@for (w of weekdays; track w; let i = $index) { <option [value]="i + 1" [selected]="i + 1 === d.weekday">{{ w }}</option> }</select></label>
                  <label class="field"><span>Time</span><input maxlength="5" [value]="d.time" (change)="set({ time: $any($event.target).value.trim() })" /></label>
                  <label class="field"><span>Every so many weeks</span><input type="number" min="1" max="26" [value]="d.everyWeeks" (change)="set({ everyWeeks: +$any($event.target).value || 1, exceptions: [] })" /></label>
                  <label class="field"><span>Category</span><select (change)="set({ categoryId: +$any($event.target).value })">@for (c of session.blog()?.categories ?? []; track c.id) { <option [value]="c.id" [selected]="c.id === d.categoryId">{{ c.name }}</option> }</select></label>
                  <label class="field"><span>Format</span><input maxlength="60" list="formats" [value]="d.format" (change)="set({ format: $any($event.target).value.trim() })" /><datalist id="formats">@for (f of formats(); track f.id) { <option [value]="f.name"></option> }</datalist></label>
                  <span></span>
                  <label class="field"><span>From</span><input type="date" [value]="d.from ?? ''" (change)="set({ from: $any($event.target).value || null, exceptions: [] })" /></label>
                  <label class="field"><span>Until</span><input type="date" [value]="d.until ?? ''" (change)="set({ until: $any($event.target).value || null })" /></label>
                </div>
              </fieldset>
              <h3>The next dates</h3>
              <table><caption class="unseen">The next dates of this slot</caption>
                <tbody>@for (row of coming(); track row.date) {
                  <tr [class.skipped]="row.exception && row.exception.movedTo === null"><th scope="row">{{ short(row.date) }}</th>
                    <td>@if (row.exception; as e) { {{ e.movedTo === null ? 'skipped' : 'moved to ' + short(e.movedTo) + (e.movedTime ? ' ' + e.movedTime : '') }} } @else { {{ d.time }} }</td>
                    <td>@if (manages()) {
                      @if (row.exception) { <button type="button" class="btn small" (click)="asUsual(row.date)">As usual</button> }
                      @else if (moving() === row.date) {
                        <label><span class="unseen">Move {{ short(row.date) }} to</span><input #to type="date" [value]="row.date" /></label><label><span class="unseen">at</span><input #clock maxlength="5" size="5" [value]="d.time" /></label>
                        <button type="button" class="btn small" (click)="move(row.date, to.value, clock.value.trim())">Move it</button>
                      } @else { <button type="button" class="btn small" [attr.aria-label]="'Skip ' + short(row.date)" (click)="except({ date: row.date, movedTo: null, movedTime: null })">Skip</button> <button type="button" class="btn small" [attr.aria-label]="'Move ' + short(row.date)" (click)="moving.set(row.date)">Move …</button> }
                    }</td></tr>
                } @empty { <tr><td class="soft">No date to come.</td></tr> }</tbody></table>
              @if (manages()) {
                <div class="effect" role="status">
                  @if (answer(); as a) { @if (changed()) { <p>{{ a.sentence }}</p>
                    @for (p of a.loses; track p.id) { <p class="loses"><a [routerLink]="['/posts', p.id]">{{ p.title }}</a>, {{ p.stage }}, keeps {{ when(p.runLocal) }} and stands in no slot.</p> }
                    @for (p of a.gains; track p.id) { <p><a [routerLink]="['/posts', p.id]">{{ p.title }}</a>, {{ when(p.runLocal) }}, stands in a slot again.</p> } } }
                </div>
                <div class="ends">@if (chosen() !== null) { <button type="button" class="btn" (click)="remove()">Remove the slot</button> }<span style="flex: 1"></span><button type="button" class="btn" (click)="leave()">Close</button><button class="btn act" type="submit" [disabled]="!changed() || busy()">{{ chosen() === null ? 'Put it on the calendar' : 'Store the change' }}</button></div>
              }
            </form>
          </section>
        }
      </div>
    </div>
  `,
  styleUrl: './side-page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SlotsPage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly saying = inject(Say);
  protected readonly weekdays = WEEKDAYS;
  /** The blog's formats are proposed; a slot may ask for another in its own words. */
  protected readonly formats = signal<FormatView[]>([]);
  protected readonly slots = computed(() => this.session.blog()?.slots ?? []);
  protected readonly manages = () => this.session.may('manageBlog');
  /** The slot that is looked at; null for a new one. */
  protected readonly chosen = signal<number | null>(null);
  protected readonly draft = signal<NewSlot | null>(null);
  private readonly stored = signal('');
  protected readonly moving = signal<string | null>(null);
  protected readonly answer = signal<SlotAnswer | null>(null);
  protected readonly fault = signal('');
  protected readonly busy = signal(false);
  protected readonly changed = computed(() => this.draft() !== null && JSON.stringify(this.draft()) !== this.stored());
  protected readonly today = new Date().toISOString().slice(0, 10);
  protected readonly short = (date: string) => sayShortDate(date, this.today);
  protected readonly when = (local: string) => sayWhen(local, this.today);
  protected readonly say = (slot: NewSlot) => saySlot(slot, this.today);
  protected readonly coming = computed(() => { const d = this.draft(); return d && d.everyWeeks >= 1 ? nextDates(d, this.today, COMING) : []; });

  constructor() {
    void this.api.call('formats.list', {}).then((formats) => this.formats.set(formats)).catch(() => undefined);
    // A moment after the last change the server is asked what it would do.
    effect((cleanup) => {
      const slot = this.draft();
      const id = this.chosen();
      if (!slot || !this.manages() || !this.changed()) return;
      const timer = setTimeout(() => void this.weigh(id, slot), 250);
      cleanup(() => clearTimeout(timer));
    });
  }

  protected choose(slot: StandingSlot): void {
    const rule = ruleOf(slot);
    this.chosen.set(slot.id);
    this.stored.set(JSON.stringify(rule));
    this.open(rule);
  }

  protected begin(): void {
    this.chosen.set(null);
    this.stored.set('');
    this.open({ weekday: 1, time: '08:00', categoryId: this.session.blog()!.categories[0]!.id, format: '', from: null, until: null, everyWeeks: 1, exceptions: [] });
  }

  private open(rule: NewSlot): void {
    this.draft.set(rule);
    this.answer.set(null);
    this.moving.set(null);
    this.fault.set('');
  }

  protected leave(): void {
    this.draft.set(null);
    this.chosen.set(null);
  }

  protected set(part: Partial<NewSlot>): void {
    this.draft.update((d) => d && { ...d, ...part });
  }

  protected except(exception: SlotException): void {
    this.set({ exceptions: [...this.draft()!.exceptions.filter((e) => e.date !== exception.date), exception].sort((a, b) => a.date.localeCompare(b.date)) });
    this.moving.set(null);
  }

  protected asUsual(date: string): void {
    this.set({ exceptions: this.draft()!.exceptions.filter((e) => e.date !== date) });
  }

  protected move(date: string, movedTo: string, time: string): void {
    if (!movedTo) this.fault.set('Choose the date it moves to.');
    else if (!/^([01]\d|2[0-3]):[0-5]\d$/.test(time)) this.fault.set('Type the time like 08:00.');
    else {
      this.fault.set('');
      this.except({ date, movedTo, movedTime: time === this.draft()!.time ? null : time });
    }
  }

  private async weigh(id: number | null, slot: NewSlot): Promise<void> {
    try {
      this.answer.set(await this.api.call('slots.weigh', { body: { id, slot } }));
      this.fault.set('');
    } catch (error) {
      this.answer.set(null);
      this.fault.set(sentenceOf(error));
    }
  }

  protected async store(): Promise<void> {
    const body = this.draft()!;
    const id = this.chosen();
    const before = this.stored();
    const blog = await this.act(() => (id === null ? this.api.call('slots.add', { body }) : this.api.call('slots.change', { id, body })));
    if (!blog) return;
    this.leave();
    if (id === null) this.saying.done(`“${this.say(body)}” is on the calendar.`);
    else this.saying.done(`Stored: ${this.say(body)}. Posts keep their run times.`, async () => { await this.act(() => this.api.call('slots.change', { id, body: JSON.parse(before) as NewSlot })); });
  }

  protected async remove(): Promise<void> {
    const id = this.chosen()!;
    const before = JSON.parse(this.stored()) as NewSlot;
    const answer = await this.api.call('slots.weigh', { body: { id, slot: null } }).catch(() => null);
    if (!(await this.act(() => this.api.call('slots.remove', { id })))) return;
    this.leave();
    this.saying.done(`“${this.say(before)}” is off the calendar.${answer && answer.loses.length > 0 ? ` ${answer.loses.length === 1 ? 'One post stands' : `${answer.loses.length} posts stand`} in no slot now and keep${answer.loses.length === 1 ? 's its run time' : ' their run times'}.` : ' Posts keep their run times.'}`,
      async () => { await this.act(() => this.api.call('slots.add', { body: before })); });
  }

  private async act<T>(what: () => Promise<T>): Promise<T | null> {
    this.busy.set(true);
    try {
      const done = await what();
      await this.session.refresh();
      this.fault.set('');
      return done;
    } catch (error) {
      this.fault.set(sentenceOf(error));
      return null;
    } finally {
      this.busy.set(false);
    }
  }
}
