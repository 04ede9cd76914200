import { CdkDrag, CdkDropList, type CdkDragDrop } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import type { PostCard } from '@keyroster/contract';
import { sayDistance } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { sentenceOf } from '../api/api';
import { CategoryTab } from '../ui/category-tab';
import { PlannerService } from './planner.service';

/** More at once is an import, not a list of thoughts. */
const MOST_ROWS = 100;

/** What the tray calls itself as a place to drop a card; days call themselves by their date. */
export const TRAY: string = 'tray';

/** Where pitches wait, grouped by category, with a line to type the next one into. */
@Component({
  selector: 'kr-tray',
  imports: [CdkDrag, CdkDropList, CategoryTab],
  template: `
    <h2>Pitch tray <span>{{ planner.view() ? count() + ' waiting' : '' }}</span></h2>
    @if (session.may('pitch')) {
      <input #title class="add" aria-label="Type a pitch, Enter to keep it" placeholder="Type a pitch, Enter to keep it" maxlength="300" (keydown.enter)="add(title, category.value)" (paste)="addList($event, category.value)" />
      <label class="into"><span class="unseen">Category of the pitch you type</span>
        <select #category>@if (session.me()?.role !== 'editor') { <option value="">into: no category yet</option> } @for (c of mine(); track c.id) { <option [value]="c.id">into: {{ c.name }}</option> }</select></label>
      <p class="unseen" role="status">{{ kept() }}</p>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
    }
    @for (group of planner.tray(); track group.categoryId) {
      <section cdkDropList [cdkDropListData]="place" (cdkDropListDropped)="dropped.emit($event)" [attr.aria-label]="group.name + ', pitches'">
        <h3><kr-category [id]="group.categoryId" /><span [class.dry]="group.pitches.length <= 1 && group.categoryId !== null">{{ group.categoryId === null ? group.pitches.length : group.pitches.length === 0 ? 'dry' : group.pitches.length === 1 ? '1, running dry' : group.pitches.length }}</span></h3>
        @for (pitch of group.pitches; track pitch.id) {
          <button class="pitch" cdkDrag [cdkDragData]="pitch" [cdkDragDisabled]="!planner.mayPlan(pitch)" [class.lifted]="lifted() === pitch.id" [attr.data-card]="pitch.id"
            [attr.aria-label]="pitch.title + ', pitch, ' + (pitch.byline?.name ?? 'open') + ', ' + age(pitch)" (click)="opened.emit(pitch)" (keydown)="keyed.emit({ event: $event, post: pitch })">
            {{ pitch.title }}<small>{{ pitch.byline?.initials ?? 'open' }} · {{ age(pitch) }}</small>
          </button>
        }
      </section>
    }
  `,
  styles: `
    :host { display: block; padding: 12px 12px 24px 20px; border-right: 1px solid var(--line); overflow: auto; }
    h2 { display: flex; justify-content: space-between; align-items: baseline; } h2 span { font: 500 12px var(--sans); color: var(--soft); }
    .add { margin: 8px 0 4px; border-style: dashed; border-color: var(--soft); } .into select { border-color: transparent; background: none; color: var(--soft); font-size: 12px; min-height: 24px; padding: 1px 6px; }
    section { margin-top: 9px; min-height: 24px; } h3 { display: flex; justify-content: space-between; font: 650 11.5px var(--sans); margin: 0 0 4px; } h3 > span { color: var(--soft); font-weight: 500; } h3 .dry { color: var(--brass); font-weight: 650; }
    .pitch { display: block; width: 100%; text-align: left; background: var(--sheet); border: 1px solid var(--line); border-radius: 4px; padding: 5px 8px; margin-bottom: 4px; font: 500 13.5px/1.22 var(--serif); cursor: grab; overflow-wrap: break-word; }
    .pitch:hover { border-color: var(--soft); } .pitch small { font: 500 11px var(--sans); color: var(--soft); display: block; margin-top: 1px; }
    .lifted { outline: 2px dashed var(--brass); outline-offset: 1px; }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Tray {
  protected readonly planner = inject(PlannerService);
  protected readonly session = inject(SessionService);
  readonly lifted = input<number | null>(null);
  readonly opened = output<PostCard>();
  readonly dropped = output<CdkDragDrop<string>>();
  readonly keyed = output<{ event: KeyboardEvent; post: PostCard }>();
  protected readonly place = TRAY;
  protected readonly kept = signal('');
  protected readonly fault = signal('');
  protected readonly count = computed(() => this.planner.view()?.pitches.length ?? 0);
  protected readonly mine = computed(() => (this.session.blog()?.categories ?? []).filter((c) => this.session.me()?.role !== 'editor' || this.session.isDeskFor(c.id)));

  protected age(pitch: PostCard): string {
    const days = sayDistance(pitch.createdAt.slice(0, 10), this.planner.view()?.today ?? pitch.createdAt.slice(0, 10));
    return days.replace(' ago', '').replace('yesterday', '1 day').replace('tomorrow', 'today');
  }

  /** A list pasted into the line becomes a pitch a row; bullets and numbers before the words are dropped. */
  protected async addList(event: ClipboardEvent, category: string): Promise<void> {
    const rows = (event.clipboardData?.getData('text/plain') ?? '').split(/\r?\n/).map((row) => row.replace(/^\s*(?:[-*•–]|\d{1,3}[.)])\s+/, '').trim()).filter(Boolean);
    if (rows.length < 2) return;
    event.preventDefault();
    this.fault.set('');
    if (rows.length > MOST_ROWS) {
      this.fault.set(`That list has ${rows.length} rows. Paste at most ${MOST_ROWS} at once; nothing was kept of it.`);
      return;
    }
    let kept = 0;
    try {
      for (const row of rows) {
        await this.planner.keepPitch(row.slice(0, 300), category ? Number(category) : null);
        kept++;
      }
      this.kept.set(`Kept ${kept} pitches.`);
    } catch (error) {
      this.fault.set(`${kept} of ${rows.length} rows were kept, up to “${rows[kept - 1] ?? ''}”. ${sentenceOf(error)}`);
    }
    await this.planner.refresh();
  }

  /** Forty in a row without the mouse: the line empties at once and stays in focus. */
  protected async add(field: HTMLInputElement, category: string): Promise<void> {
    const title = field.value.trim();
    if (title === '') return;
    field.value = '';
    this.fault.set('');
    try {
      await this.planner.pitch(title, category ? Number(category) : null);
      this.kept.set(`Kept: ${title}`);
    } catch (error) {
      if (field.value === '') field.value = title;
      this.fault.set(`“${title}” was not kept. ${sentenceOf(error)}`);
    }
  }
}
