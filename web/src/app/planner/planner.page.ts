import { CdkDrag, CdkDropList, CdkDropListGroup, type CdkDragDrop } from '@angular/cdk/drag-drop';
import { LiveAnnouncer } from '@angular/cdk/a11y';
import { ChangeDetectionStrategy, Component, ElementRef, computed, effect, inject, input, signal } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { MatMenuModule } from '@angular/material/menu';
import { Router } from '@angular/router';
import type { PostCard } from '@keyroster/contract';
import { STAGES, WEEKDAYS, addDays, sayDate, sayDistance, startOfWeek, weekday } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Live } from '../api/live';
import { Say } from '../ui/say.service';
import { BriefDialog } from './brief';
import { ByPerson } from './by-person';
import { Card } from './card';
import { PlaceMenu, type PlaceChoice, type PlaceData } from './place-menu';
import { PlannerService, type DayView, type WeekView } from './planner.service';
import { FACTS, PlannerTaste, type Fact } from './planner-taste.service';
import { RunList } from './run-list';
import { TRAY, Tray } from './tray';

const SPANS = Array.from({ length: 12 }, (_, i) => i + 1);
const VIEWS = [{ view: 'weeks', label: 'Weeks' }, { view: 'people', label: 'By person' }, { view: 'list', label: 'Run list' }] as const;
type View = (typeof VIEWS)[number]['view'];

@Component({
  imports: [CdkDrag, CdkDropList, CdkDropListGroup, MatMenuModule, ByPerson, Card, RunList, Tray],
  providers: [PlannerService],
  template: `
    <div class="main" cdkDropListGroup>
      <kr-tray [lifted]="liftedId()" (opened)="open($event)" (dropped)="drop($event)" (keyed)="key($event.event, $event.post)" />
      <div class="board">
        <div class="bar">
          <h1>Planner</h1>
          <div class="seg" role="group" aria-label="View">@for (v of views; track v.view) { <button [attr.aria-pressed]="showing() === v.view" (click)="look(v.view)">{{ v.label }}</button> }</div>
          <div class="seg" role="group" aria-label="Which weeks">
            <button (click)="go(-1)" aria-label="One week earlier">‹</button><button (click)="goto(undefined)">This week</button><button (click)="go(1)" aria-label="One week later">›</button>
          </div>
          <label class="span">Weeks <select aria-label="How many weeks" (change)="span($any($event.target).value)">@for (n of spans; track n) { <option [value]="n" [selected]="n === count()">{{ n }}</option> }</select></label>
          <span style="flex: 1"></span>
          <button class="btn" [hidden]="showing() !== 'weeks'" [matMenuTriggerFor]="show">Show: {{ shownFacts() || 'titles only' }}</button>
          <mat-menu #show="matMenu">@for (f of facts; track f) { <button mat-menu-item role="menuitemcheckbox" [attr.aria-checked]="taste.facts().has(f)" (click)="$event.stopPropagation(); taste.toggle(f)">{{ taste.facts().has(f) ? '✓ ' : '' }}{{ f }}</button> }</mat-menu>
        </div>
        <div class="bar filters">
          <label><span class="unseen">Only one category</span><select (change)="set({ category: $any($event.target).value })"><option value="">every category</option>@for (c of session.blog()?.categories ?? []; track c.id) { <option [value]="c.id" [selected]="c.id === planner.filter().categoryId">{{ c.name }}</option> }</select></label>
          <label><span class="unseen">Only one person</span><select (change)="set({ person: $any($event.target).value })"><option value="">everybody</option>@for (p of people(); track p.id) { <option [value]="p.id" [selected]="p.id === planner.filter().personId">{{ p.name }}</option> }</select></label>
          <label><span class="unseen">Only one stage</span><select (change)="set({ stage: $any($event.target).value })"><option value="">every stage</option>@for (s of stages; track s) { <option [value]="s" [selected]="s === planner.filter().stage">{{ s }}</option> }</select></label>
          @if (pondering(); as sentence) { <span class="pondering" role="status">{{ sentence }}</span> }
          @else { <span class="soft hint">@if (showing() === 'weeks') { Drag a card, or focus it and press <kbd>Space</kbd> to lift it, <kbd>M</kbd> for a menu } @else { Focus a post and press <kbd>M</kbd> to move it }</span> }
        </div>
        @if (planner.view()?.late?.length) {
          <section class="latebar" aria-label="Late"><b>Late</b>
            @for (post of planner.view()!.late; track post.id) { <button (click)="open(post)">{{ post.title }}</button><span>{{ whyLate(post) }}</span> }
            @if (planner.hopeless().length > 0) { <button class="btn small" (click)="planner.sweep()">Sweep {{ planner.hopeless().length === 1 ? 'the one' : 'the ' + planner.hopeless().length }} past hope back to the tray</button> }
          </section>
        }
        @if (planner.fault()) { <p class="fault" role="alert">{{ planner.fault() }}</p> }
        @if (showing() === 'list') { <kr-run-list (opened)="open($event)" (keyed)="menuKey($event.event, $event.post)" /> }
        @else if (showing() === 'people') { <kr-by-person (opened)="open($event)" (keyed)="menuKey($event.event, $event.post)" /> }
        @else {
        <div class="heads" [style.grid-template-columns]="columns()">
          <span></span>
          @for (head of heads(); track $index) { <span><b>{{ head.name }}</b>{{ head.slots }}</span> }
        </div>
        @for (week of planner.weeks(); track week.days[0]!.date) {
          <div class="week" [style.grid-template-columns]="columns()">
            <h2 class="wk">wk {{ week.week }}<small>{{ week.month }}</small></h2>
            @for (group of grouped(week); track group[0]!.date) {
              <div class="cell" [class.weekend]="group.length > 1">
                @for (day of group; track day.date) {
                  <section class="d" [class.now]="day.today" [class.target]="target() === day.date" [class.asked]="this.day() === day.date" [attr.data-day]="day.date" [attr.aria-label]="words(day)"
                    cdkDropList [cdkDropListData]="day.date" (cdkDropListEntered)="ponder($event.item.data, day.date)" (cdkDropListDropped)="drop($event)">
                    <p class="n"><span><span class="dow">{{ weekdayOf(day) }} </span>{{ day.number }}</span>@if (day.today) { <span>today</span> }</p>
                    @for (entry of day.entries; track entry.kind === 'post' ? 'p' + entry.post.id : 's' + entry.slot.slotId) {
                      @if (entry.kind === 'post') {
                        <button class="bare" cdkDrag [cdkDragData]="entry.post" [cdkDragDisabled]="!planner.mayPlan(entry.post)" [class.lifted]="liftedId() === entry.post.id" [attr.data-card]="entry.post.id"
                          [attr.aria-label]="entry.post.title + ', ' + entry.post.stage + (entry.post.late ? ', late' : '') + ', ' + (entry.post.byline?.name ?? 'nobody yet')" (click)="open(entry.post)" (keydown)="key($event, entry.post)">
                          <kr-card [post]="entry.post" [warnings]="planner.warnings().get(entry.post.id) ?? []" [class.narrow]="group.length > 1" />
                        </button>
                      } @else if (!entry.past) {
                        <div class="socket" [class.narrow]="group.length > 1"><b>{{ session.category(entry.slot.categoryId)?.name }}</b><span>{{ entry.slot.time }}<br />{{ fits(entry.slot.categoryId) }}</span></div>
                      } @else { <div class="socket gone"><b>{{ session.category(entry.slot.categoryId)?.name }}</b><span>{{ entry.slot.time }}<br />went by empty</span></div> }
                    }
                  </section>
                }
              </div>
            }
          </div>
        }
        }
      </div>
    </div>
  `,
  styleUrl: './planner.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PlannerPage {
  protected readonly planner = inject(PlannerService);
  protected readonly session = inject(SessionService);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialog);
  private readonly say = inject(Say);
  private readonly announcer = inject(LiveAnnouncer);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  /** From the address: first week, how many, and the day that was asked for. */
  readonly from = input<string>();
  readonly weeks = input<string>();
  readonly day = input<string>();
  readonly view = input<string>();
  readonly category = input<string>();
  readonly person = input<string>();
  readonly stage = input<string>();
  protected readonly taste = inject(PlannerTaste);
  protected readonly views = VIEWS;
  protected readonly facts = FACTS;
  protected readonly stages = STAGES.filter((s) => s !== 'pitch' && s !== 'withdrawn');
  protected readonly showing = computed((): View => VIEWS.find((v) => v.view === (this.view() ?? this.taste.view()))?.view ?? 'weeks');
  protected readonly shownFacts = computed(() => FACTS.filter((f: Fact) => this.taste.facts().has(f)).join(', '));
  /** Everybody with a dated post in these weeks. */
  protected readonly people = computed(() => [...new Map((this.planner.view()?.dated ?? []).flatMap((p) => (p.byline ? [[p.byline.id, p.byline] as const] : []))).values()].sort((a, b) => a.name.localeCompare(b.name)));
  /** The card that is being dragged, and the day it is held over. */
  protected readonly over = signal<{ post: PostCard; date: string } | null>(null);
  protected readonly spans = SPANS;
  protected readonly count = computed(() => { const n = Number(this.weeks() ?? this.taste.weeks() ?? 4); return Number.isInteger(n) && n >= 1 && n <= 12 ? n : 4; });
  protected readonly lifted = signal<PostCard | null>(null);
  protected readonly liftedId = computed(() => this.lifted()?.id ?? null);
  protected readonly target = signal<string | null>(null);

  /** What would be wrong, before a drop lands: while a card is dragged or carried. */
  protected readonly pondering = computed(() => {
    const lifted = this.lifted();
    const target = this.target();
    const held = lifted && target ? { post: lifted, date: target } : this.over();
    if (!held) return '';
    const warnings = this.planner.warningsAt(held.post, held.date);
    return `${sayDate(held.date)}: ${warnings.length > 0 ? warnings.map((w) => w.sentence).join(' ') : 'nothing against it.'}`;
  });

  constructor() {
    const number = (text: string | undefined) => (/^\d{1,9}$/.test(text ?? '') ? Number(text) : null);
    effect(() => this.planner.filter.set({ categoryId: number(this.category()), personId: number(this.person()), stage: this.stages.find((s) => s === this.stage()) ?? null }));
    effect(() => { void this.planner.show(/^\d{4}-\d\d-\d\d$/.test(this.from() ?? '') ? this.from() : undefined, this.count()); });
    inject(Live).whenever(['post', 'blog'], () => void this.planner.refresh());
  }

  /** The days of a week in columns: a weekend without slots shares a narrow one. */
  protected grouped(week: WeekView): DayView[][] {
    const withSlots = new Set((this.session.blog()?.slots ?? []).map((s) => s.weekday));
    const groups: DayView[][] = [];
    for (const day of week.days) {
      const last = groups.at(-1);
      const joins = day.weekend && !withSlots.has(weekday(day.date)) && last?.[0]?.weekend && !withSlots.has(weekday(last[0].date));
      if (joins) last.push(day);
      else groups.push([day]);
    }
    return groups;
  }

  protected readonly columns = computed(() => {
    const week = this.planner.weeks()[0];
    return week ? `52px ${this.grouped(week).map((g) => (g.length > 1 ? '78px' : 'minmax(0, 1fr)')).join(' ')}` : '';
  });

  protected readonly heads = computed(() => {
    const week = this.planner.weeks()[0];
    if (!week) return [];
    const slots = this.session.blog()?.slots ?? [];
    return this.grouped(week).map((group) => ({
      name: group.map((d) => WEEKDAYS[weekday(d.date) - 1]!.slice(0, 3)).join('–'),
      slots: group.flatMap((d) => slots.filter((s) => s.weekday === weekday(d.date))).map((s) => `${this.session.category(s.categoryId)?.name ?? ''} ${s.time}`).join(', '),
    }));
  });

  protected whyLate(post: PostCard): string {
    const view = this.planner.view();
    if (!view) return '';
    return post.runLocal && post.runLocal < view.nowLocal ? `was to run ${sayDistance(post.runLocal.slice(0, 10), view.today)}` : post.copyDate ? `copy was due ${sayDistance(post.copyDate, view.today)}` : '';
  }

  protected weekdayOf(day: DayView): string {
    return WEEKDAYS[weekday(day.date) - 1]!.slice(0, 3);
  }

  protected words(day: DayView): string {
    return `${sayDate(day.date)}${day.today ? ', today' : ''}`;
  }

  protected fits(categoryId: number): string {
    const n = this.planner.tray().find((g) => g.categoryId === categoryId)?.pitches.length ?? 0;
    return n === 0 ? 'tray is dry' : n === 1 ? '1 pitch fits' : `${n} pitches fit`;
  }

  protected goto(from: string | undefined): void {
    void this.router.navigate([], { queryParams: { from: from ?? null, day: null }, queryParamsHandling: 'merge' });
  }
  protected go(weeks: number): void {
    this.goto(addDays(this.planner.view()?.from ?? startOfWeek(new Date().toISOString().slice(0, 10)), weeks * 7));
  }
  protected span(weeks: string): void {
    this.taste.remember({ weeks });
    this.set({ weeks });
  }

  protected look(view: View): void {
    this.taste.remember({ view });
    this.set({ view });
  }
  protected set(params: Record<string, string>): void {
    void this.router.navigate([], { queryParams: Object.fromEntries(Object.entries(params).map(([k, v]) => [k, v || null])), queryParamsHandling: 'merge' });
  }

  protected open(post: PostCard): void {
    if (this.lifted()) return;
    this.dialog.open(BriefDialog, { data: post.id, width: '560px', maxWidth: '94vw', ariaLabel: post.title });
  }

  /** What a drag carries is typed by nobody; it is always a card's post. */
  protected ponder(post: unknown, date: string): void {
    this.over.set({ post: post as PostCard, date });
  }

  protected drop(event: CdkDragDrop<string>): void {
    const post = event.item.data as PostCard;
    this.over.set(null);
    if (event.container === event.previousContainer) return;
    if (event.container.data === TRAY) {
      if (post.stage !== 'pitch') void this.planner.toTray(post);
    } else void this.put(post, event.container.data);
  }

  private async put(post: PostCard, date: string, time?: string): Promise<void> {
    const done = await this.planner.place(post, date, time);
    if (!done) return;
    const when = done.post.runLocal ? ` ${sayDate(done.post.runLocal)}, ${done.post.runLocal.slice(11, 16)}` : '';
    this.say.done(post.stage === 'pitch' ? `Commissioned for${when}.` : done.sentence, this.planner.undoPlace(post, done));
    this.focusCard(post.id);
    if (post.stage === 'pitch') this.open(done.post);
  }

  /** Space lifts the card in focus; arrows carry it over the days; Space or Enter drops it; Escape puts it back. M opens the menu. */
  protected key(event: KeyboardEvent, post: PostCard): void {
    if (!this.planner.mayPlan(post)) return;
    const lifted = this.lifted();
    if (!lifted) {
      if (event.key === ' ') this.lift(event, post);
      else if (event.key === 'm' || event.key === 'M') {
        event.preventDefault();
        this.menu(post);
      }
      return;
    }
    const step = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      this.carry(step);
    } else if (event.key === ' ' || event.key === 'Enter') {
      event.preventDefault();
      const date = this.target();
      this.lifted.set(null);
      this.target.set(null);
      if (date) void this.put(lifted, date);
    } else if (event.key === 'Escape' || event.key === 'Tab') {
      this.lifted.set(null);
      this.target.set(null);
      void this.announcer.announce('Put back where it was.');
    }
  }

  private lift(event: KeyboardEvent, post: PostCard): void {
    event.preventDefault();
    this.lifted.set(post);
    const start = post.runLocal?.slice(0, 10) ?? this.planner.openSlots().find((s) => s.categoryId === post.categoryId)?.date ?? this.planner.openSlots()[0]?.date ?? this.planner.view()?.today ?? null;
    this.target.set(start);
    this.tellTarget('Lifted. ');
  }

  private carry(days: number): void {
    const view = this.planner.view();
    const from = this.target();
    if (!view || !from) return;
    const date = addDays(from, days);
    if (date < view.from || date > view.to) return;
    this.target.set(date);
    this.tellTarget('');
  }

  private tellTarget(before: string): void {
    const date = this.target();
    if (!date) return;
    const open = this.planner.openSlots().filter((s) => s.date === date).map((s) => `open slot ${this.session.category(s.categoryId)?.name ?? ''} ${s.time}`);
    const warnings = this.planner.warningsAt(this.lifted()!, date).map((w) => w.sentence);
    void this.announcer.announce(`${before}${sayDate(date)}${open.length ? `, ${open.join(', ')}` : ''}. ${warnings.join(' ')} Space drops it, Escape puts it back.`);
    this.element.nativeElement.querySelector(`[data-day='${date}']`)?.scrollIntoView({ block: 'nearest' });
  }

  protected menuKey(event: KeyboardEvent, post: PostCard): void {
    if (!this.planner.mayPlan(post) || event.key.toLowerCase() !== 'm') return;
    event.preventDefault();
    this.menu(post);
  }

  private menu(post: PostCard): void {
    const data: PlaceData = { post, openSlots: this.planner.openSlots(), today: this.planner.view()?.today ?? '' };
    this.dialog.open<PlaceMenu, PlaceData, PlaceChoice>(PlaceMenu, { data, width: '480px', maxWidth: '94vw', ariaLabel: `Move ${post.title}` }).afterClosed().subscribe((choice) => {
      if (choice?.to === 'tray') void this.planner.toTray(post);
      else if (choice) void this.put(post, choice.date, choice.time);
    });
  }

  private focusCard(id: number): void {
    setTimeout(() => this.element.nativeElement.querySelector<HTMLElement>(`[data-card='${id}']`)?.focus());
  }
}
