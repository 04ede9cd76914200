import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import type { PlannerCard } from '@keyroster/contract';
import { sayDistance, sayPressing, sayWish } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { sentenceOf } from '../api/api';
import { CategoryTab } from '../ui/category-tab';
import { CarryService } from './carry.service';
import { TRAY, type CardDrop, type DropPlace } from './dragging';
import { PlannerService } from './planner.service';
import { PlannerTaste, TRAY_GROUPS, TRAY_SORTS } from './planner-taste.service';
import { TrayService, type TrayGroup } from './tray.service';

/** More at once is an import, not a list of thoughts. */
const MOST_ROWS = 500;

/** Where pitches wait, with a line to type the next one into. */
@Component({
  selector: 'kr-tray',
  imports: [CdkDrag, CdkDropList, CategoryTab],
  template: `
    <h2>Pitch tray <span>{{ planner.view() ? count() + ' waiting' : '' }}</span></h2>
    @if (session.may('pitch')) {
      <input #title class="add" aria-label="Type a pitch, Enter to keep it" placeholder="Type a pitch, Enter to keep it" maxlength="300" (keydown.enter)="add(title, category.value)" (paste)="addList($event, category.value)" />
      <p class="row into"><label><span class="unseen">Category of the pitch you type</span>
        <select #category>@if (session.me()?.role !== 'editor') { <option value="">into: no category yet</option> } @for (c of mine(); track c.id) { <option [value]="c.id">into: {{ c.name }}</option> }</select></label>
        <label class="btn small file" [title]="csvHelp">CSV …<input type="file" class="unseen" accept=".csv,text/csv" aria-label="Import pitches from a CSV file" (change)="importFile($any($event.target))" /></label></p>
      <p class="unseen" role="status">{{ kept() }}</p>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
    }
    <p class="row look">
      <label><span class="unseen">Search the tray</span><input #words type="search" placeholder="Search" [value]="tray.words()" (input)="tray.words.set(words.value)" /></label>
      <label><span class="unseen">Group by</span><select (change)="taste.remember({ group: $any($event.target).value })">@for (g of groups; track g) { <option [value]="g" [selected]="g === taste.group()">by {{ g }}</option> }</select></label>
      <label><span class="unseen">Sort by</span><select (change)="taste.remember({ sort: $any($event.target).value })">@for (s of sorts; track s) { <option [value]="s" [selected]="s === taste.sort()">{{ s }}</option> }</select></label>
    </p>
    @for (group of tray.groups(); track group.key) {
      <section cdkDropList [cdkDropListData]="place" cdkDropListSortingDisabled (cdkDropListDropped)="dropped.emit($event)" [attr.aria-label]="group.name + ', pitches'">
        <h3>@if (group.categoryId === undefined) { {{ group.name }} } @else { <kr-category [id]="group.categoryId" /> }<span [class.dry]="isDry(group)">{{ howMany(group) }}</span></h3>
        @for (pitch of group.pitches; track pitch.id) {
          <button class="pitch" cdkDrag [cdkDragData]="pitch" [cdkDragDisabled]="!planner.mayPlan(pitch)" [class.lifted]="carry.liftedId() === pitch.id" [attr.data-card]="pitch.id" (cdkDragStarted)="carry.begin($event)" (cdkDragEnded)="carry.end()" (cdkDragMoved)="carry.moved($event.pointerPosition, pitch)"
            [attr.aria-label]="pitch.title + ', pitch, ' + facts(pitch)" (click)="opened.emit(pitch)" (keydown)="keyed.emit({ event: $event, post: pitch })">
            {{ pitch.title }}<small>{{ pitch.byline?.initials ?? 'open' }} · {{ age(pitch) }}@if (pitch.rating) { · <span class="dots" aria-hidden="true"><b>{{ '●'.repeat(pitch.rating) }}</b>{{ '○'.repeat(5 - pitch.rating) }}</span> }</small>
            @if (wish(pitch); as w) { <small class="wish">{{ w }}</small> }
            @if (tray.alike().get(pitch.id); as a) { <small class="alike" [title]="'Both have: ' + a.shared.join(', ')">{{ percent(a.score) }} like “{{ a.alike.title }}”</small> }
          </button>
        }
      </section>
    } @empty { @if (planner.view()) { <p class="soft none">No pitch has these words.</p> } }
  `,
  styleUrl: './tray.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Tray {
  protected readonly planner = inject(PlannerService);
  protected readonly tray = inject(TrayService);
  protected readonly carry = inject(CarryService);
  protected readonly taste = inject(PlannerTaste);
  protected readonly session = inject(SessionService);
  readonly opened = output<PlannerCard>();
  readonly dropped = output<CardDrop>();
  readonly keyed = output<{ event: KeyboardEvent; post: PlannerCard }>();
  protected readonly place: DropPlace = TRAY;
  protected readonly groups = TRAY_GROUPS;
  protected readonly sorts = TRAY_SORTS;
  protected readonly csvHelp = 'A CSV file with the column “title”, and perhaps thought, category, writer, not before, not after, must be on';
  protected readonly kept = signal('');
  protected readonly fault = signal('');
  protected readonly count = computed(() => this.planner.view()?.pitches.length ?? 0);
  protected readonly mine = computed(() => (this.session.blog()?.categories ?? []).filter((c) => this.session.me()?.role !== 'editor' || this.session.isDeskFor(c.id)));
  protected readonly percent = (score: number) => `${Math.round(score * 100)}%`;

  private readonly today = computed(() => this.planner.view()?.today ?? '');

  protected age(pitch: PlannerCard): string {
    const days = sayDistance(pitch.createdAt.slice(0, 10), this.today() || pitch.createdAt.slice(0, 10));
    return days.replace(' ago', '').replace('yesterday', '1 day').replace('tomorrow', 'today');
  }

  protected wish(pitch: PlannerCard): string {
    return [sayWish(pitch.wish, this.today()), sayPressing(pitch.wish, this.today())].filter(Boolean).join(' · ');
  }

  protected facts(pitch: PlannerCard): string {
    return [pitch.byline?.name ?? 'open', this.age(pitch), ...(pitch.rating ? [`rated ${pitch.rating} of 5`] : []), ...(this.wish(pitch) ? [this.wish(pitch)] : [])].join(', ');
  }

  protected isDry(group: TrayGroup): boolean {
    return typeof group.categoryId === 'number' && group.pitches.length <= 1 && this.tray.words().trim() === '';
  }

  protected howMany(group: TrayGroup): string {
    const n = group.pitches.length;
    return !this.isDry(group) ? String(n) : n === 0 ? 'dry' : '1, running dry';
  }

  /** A list pasted into the line becomes a pitch a row; bullets and numbers before the words are dropped. */
  protected async addList(event: ClipboardEvent, category: string): Promise<void> {
    const rows = (event.clipboardData?.getData('text/plain') ?? '').split(/\r?\n/).map((row) => row.replace(/^\s*(?:[-*•–]|\d{1,3}[.)])\s+/, '').trim()).filter(Boolean);
    if (rows.length < 2) return;
    event.preventDefault();
    if (rows.length > MOST_ROWS) {
      this.fault.set(`That list has ${rows.length.toLocaleString('en-GB')} rows. Paste at most ${MOST_ROWS} at once; nothing was kept of it.`);
      return;
    }
    await this.act(() => this.tray.keepList(rows.map((row) => row.slice(0, 300)), category ? Number(category) : null));
  }

  protected async importFile(field: HTMLInputElement): Promise<void> {
    const file = field.files?.[0];
    field.value = '';
    if (file) await this.act(() => this.tray.importFile(file));
  }

  private async act(what: () => Promise<string>): Promise<void> {
    this.fault.set('');
    try {
      this.kept.set(await what());
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }

  /** Forty in a row without the mouse: the line empties at once and stays in focus. */
  protected async add(field: HTMLInputElement, category: string): Promise<void> {
    const title = field.value.trim();
    if (title === '') return;
    field.value = '';
    this.fault.set('');
    try {
      await this.tray.pitch(title, category ? Number(category) : null);
      this.kept.set(`Kept: ${title}`);
    } catch (error) {
      if (field.value === '') field.value = title;
      this.fault.set(`“${title}” was not kept. ${sentenceOf(error)}`);
    }
  }
}
