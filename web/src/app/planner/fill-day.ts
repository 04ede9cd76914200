import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { MoveDone, PlannerCard } from '@keyroster/contract';
import { sayClock, sayDate, sayPressing, sayWish, type PlanWarning, type SlotDate, type ZonedChoice } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, ApiError, sentenceOf } from '../api/api';
import { CategoryTab } from '../ui/category-tab';

export interface FillData {
  date: string;
  /** The open slot that was chosen, or null for the day as such. */
  slot: SlotDate | null;
  pitches: PlannerCard[];
  today: string;
  /** What would be wrong with a new post there. */
  warnings: (time: string, categoryId: number | null) => PlanWarning[];
}
export type FillChoice = { pitch: PlannerCard; time: string } | MoveDone;

const MOST_PITCHES = 12;

/** A thought written straight onto a date, without leaving the calendar; or one that already waits in the tray. */
@Component({
  selector: 'kr-fill-day',
  imports: [MatDialogModule, CategoryTab],
  template: `
    <div class="dialog">
      <h2>{{ day }}@if (data.slot) { <small>{{ data.slot.time }} <kr-category [id]="data.slot.categoryId" />{{ data.slot.format ? ' · ' + data.slot.format : '' }}</small> }</h2>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      @for (choice of choices(); track choice.offset) { <p><button class="btn" (click)="keep(title.value, thought.value, category.value, choice.local + choice.offset)">{{ clock(choice.local) }}{{ doubled() ? ($index === 0 ? ', the earlier' : ', the later') : '' }}</button></p> }
      <form (submit)="$event.preventDefault(); keep(title.value, thought.value, category.value, data.date + 'T' + time.value.trim())" novalidate>
        <label class="field"><span>Title</span><input #title maxlength="300" autocomplete="off" cdkFocusInitial /></label>
        <label class="field"><span>A line of thought</span><textarea #thought rows="2" maxlength="4000"></textarea></label>
        <div class="pair">
          <label class="field"><span>Time, {{ session.blog()?.zone }}</span><input #time [value]="at()" (input)="at.set(time.value)" maxlength="8" /></label>
          <label class="field"><span>Category</span><select #category (change)="categoryId.set(category.value ? +category.value : null)">@if (session.isDeskFor(null)) { <option value="">none yet</option> } @for (c of mine(); track c.id) { <option [value]="c.id" [selected]="c.id === data.slot?.categoryId">{{ c.name }}</option> }</select></label>
        </div>
        <p class="warn" role="status">@for (w of warnings(); track w.kind) { {{ w.sentence }} }</p>
        <div class="ends"><button type="button" class="btn" mat-dialog-close>Cancel</button><button class="btn act" type="submit" [disabled]="busy()">Put it on {{ day }}, {{ at().trim() || '…' }}</button></div>
      </form>
      @if (pitches().length > 0) {
        <h3>Or take one from the tray</h3>
        <ul>@for (pitch of pitches(); track pitch.id) {
          <li><button class="btn plain" (click)="dialog.close({ pitch, time: at().trim() })"><span>{{ pitch.title }}</span><small>{{ pitch.byline?.initials ?? 'open' }}{{ wish(pitch) }}</small></button></li> }</ul>
      }
    </div>
  `,
  styles: `
    .warn { color: var(--brass); min-height: 18px; } h2 small { display: block; font: 500 13px var(--sans); color: var(--soft); margin-top: 2px; } .pair { display: grid; grid-template-columns: 1fr 1fr; gap: 12px; } h3 { font: 650 12px var(--sans); margin: 14px 0 4px; border-top: 1px solid var(--line); padding-top: 10px; }
    ul { list-style: none; margin: 0; padding: 0; max-height: 30vh; overflow: auto; } li .btn { width: 100%; justify-content: space-between; text-align: left; gap: 10px; font: 500 14px/1.25 var(--serif); } li small { font: 500 11px var(--sans); color: var(--soft); white-space: nowrap; }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FillDay {
  protected readonly data = inject<FillData>(MAT_DIALOG_DATA);
  protected readonly dialog = inject<MatDialogRef<FillDay, FillChoice>>(MatDialogRef);
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  protected readonly day = sayDate(this.data.date, this.data.today);
  protected readonly at = signal(this.data.slot?.time ?? '08:00');
  private readonly firstCategory = this.session.isDeskFor(null) ? null : ((this.session.blog()?.categories ?? []).find((c) => this.session.isDeskFor(c.id))?.id ?? null);
  protected readonly categoryId = signal(this.data.slot?.categoryId ?? this.firstCategory);
  /** Before it lands, as for a card that is dragged. */
  protected readonly warnings = computed(() => (/^([01]\d|2[0-3]):[0-5]\d$/.test(this.at().trim()) ? this.data.warnings(this.at().trim(), this.categoryId()) : []));
  protected readonly fault = signal('');
  protected readonly busy = signal(false);
  /** Where the clocks change: the two times to choose from. */
  protected readonly choices = signal<ZonedChoice[]>([]);
  protected readonly doubled = signal(false);
  protected readonly clock = sayClock;
  protected readonly mine = computed(() => (this.session.blog()?.categories ?? []).filter((c) => this.session.isDeskFor(c.id)));

  /** Those of the slot's category first, then whatever wants this very day; best rated and oldest first. */
  protected readonly pitches = computed(() => {
    const { slot, date } = this.data;
    const fits = (p: PlannerCard) => this.session.isDeskFor(p.categoryId) && (slot === null || p.categoryId === slot.categoryId || p.wish.mustBeOn === date);
    const wants = (p: PlannerCard) => (p.wish.mustBeOn === date ? 0 : 1);
    return this.data.pitches.filter(fits).sort((a, b) => wants(a) - wants(b) || (b.rating ?? 0) - (a.rating ?? 0) || a.createdAt.localeCompare(b.createdAt)).slice(0, MOST_PITCHES);
  });

  protected wish(pitch: PlannerCard): string {
    return [sayWish(pitch.wish, this.data.today), sayPressing(pitch.wish, this.data.today)].filter(Boolean).map((w) => ` · ${w}`).join('');
  }

  protected async keep(title: string, thought: string, category: string, runAt: string): Promise<void> {
    if (title.trim() === '') {
      this.fault.set('Give it a title, however rough.');
      return;
    }
    if (!/T([01]\d|2[0-3]):[0-5]\d(:[0-5]\d)?([Z+-]|$)/.test(runAt)) {
      this.fault.set('Type the time like 08:00.');
      return;
    }
    this.busy.set(true);
    this.choices.set([]);
    try {
      const post = await this.api.call('posts.pitch', { body: { title, thought, categoryId: category ? Number(category) : null, runAt } });
      this.dialog.close({ post, sentence: '' });
    } catch (error) {
      this.fault.set(sentenceOf(error));
      if (error instanceof ApiError && error.problem?.choices) {
        this.choices.set(error.problem.choices);
        this.doubled.set(error.code === 'time-doubled');
      }
    } finally {
      this.busy.set(false);
    }
  }
}
