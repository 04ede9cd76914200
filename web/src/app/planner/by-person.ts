import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import type { PersonRef, PlannerCard } from '@keyroster/contract';
import { WEEKDAYS, sayAbsence, sayDate, sayLoad, weekLoads, weekday, type WeekLoad } from '@keyroster/core';
import { BittingMark } from '../ui/bitting-mark';
import { PersonBadge } from '../ui/person-badge';
import { CarryService } from './carry.service';
import type { CardDrop, DropPlace } from './dragging';
import { PlannerService } from './planner.service';

interface Lane {
  key: string;
  person: PersonRef | null;
  capacity: number | null;
  loads: (WeekLoad & { words: string; over: boolean })[];
  cells: { date: string; weekend: boolean; away: string | null; posts: PlannerCard[]; place: DropPlace; words: string }[];
}

/** A lane for each writer, days across: who carries what and when, who is away, and whose week is full. */
@Component({
  selector: 'kr-by-person',
  imports: [CdkDrag, CdkDropList, PersonBadge, BittingMark],
  template: `
    <div class="scroll" tabindex="0" role="region" aria-label="Posts by person, day by day">
      <table>
        <caption class="unseen">Posts by person</caption>
        <thead>
          <tr><th scope="col" rowspan="2">Person</th>@for (week of planner.weeks(); track week.days[0]!.date) { <th scope="colgroup" colspan="7" class="wk">wk {{ week.week }} <small>{{ week.month }}</small></th> }</tr>
          <tr>@for (day of days(); track day.date) { <th scope="col" [class.today]="day.today" [class.weekend]="day.weekend">{{ day.label }}</th> }</tr>
        </thead>
        @for (lane of lanes(); track lane.key) {
          <tbody>
            <tr class="load"><th scope="rowgroup" rowspan="2">@if (lane.person) { <kr-person [person]="lane.person" /><small>{{ lane.capacity === null ? 'no capacity set' : lane.capacity + ' a week' }}</small> } @else { nobody yet }</th>
              @for (load of lane.loads; track load.start) { <td colspan="7" [class.over]="load.over">@if (lane.person) { {{ load.words }} }</td> }</tr>
            <tr>@for (cell of lane.cells; track cell.date) {
              <td cdkDropList [cdkDropListData]="cell.place" cdkDropListSortingDisabled [class.weekend]="cell.weekend" [class.away]="cell.away" [title]="cell.away ?? ''" [attr.aria-label]="cell.words"
                (cdkDropListEntered)="carry.over.set({ post: $any($event.item.data), date: cell.date, bylineId: lane.person?.id ?? null })" (cdkDropListDropped)="dropped.emit($event)">
                @for (post of cell.posts; track post.id) {
                  <button cdkDrag (cdkDragStarted)="carry.begin($event)" (cdkDragEnded)="carry.end()" [cdkDragData]="post" [cdkDragDisabled]="!planner.mayPlan(post)" [class.late]="post.late" [class.warned]="planner.warningsOf(post).length > 0" [title]="said(post)" [attr.data-card]="post.id" (click)="opened.emit(post)" (keydown)="keyed.emit({ event: $event, post })">{{ post.title }}<kr-mark [stage]="post.stage" [late]="post.late" [width]="26" /></button> }</td>
            }</tr>
          </tbody>
        }
      </table>
    </div>
  `,
  styles: `
    /* As in the weeks: what is held over a cell takes no room in it. */
    td { position: relative; } td ::ng-deep > .cdk-drag-placeholder { position: absolute; inset: auto 3px 3px 3px; opacity: .35; }
    .scroll { overflow: auto; border: 1px solid var(--line); background: var(--sheet); max-height: calc(100vh - 240px); } table { border-collapse: separate; border-spacing: 0; } th, td { border-bottom: 1px solid var(--hair); border-left: 1px solid var(--hair); vertical-align: top; padding: 3px; min-width: 54px; }
    thead th { font-weight: 600; font-size: 11px; color: var(--soft); white-space: nowrap; } thead tr:last-child th { border-bottom: 2px solid var(--ink); } .wk { text-align: left; font: 560 14px var(--serif); color: var(--ink); border-left: 2px solid var(--ink); padding-left: 7px; } .wk small { font: 500 11px var(--sans); color: var(--soft); } thead .today { color: var(--verdigris); font-weight: 700; }
    thead tr:first-child th:first-child, tbody th { position: sticky; left: 0; background: var(--sheet); min-width: 150px; text-align: left; font-weight: 550; z-index: 1; } tbody th small { display: block; color: var(--soft); font-weight: 450; margin: 3px 0 0 30px; }
    .load td { border-bottom: 0; border-left: 2px solid var(--line); font-size: 11px; color: var(--soft); padding: 2px 7px; } .load td.over { color: var(--madder); font-weight: 650; } tbody tr:last-child td { border-bottom: 1px solid var(--line); height: 40px; }
    .weekend { background: repeating-linear-gradient(135deg, transparent 0 5px, color-mix(in srgb, var(--ink) 4%, transparent) 5px 6px); min-width: 26px; }
    td.away { background: repeating-linear-gradient(135deg, var(--brass-wash) 0 4px, transparent 4px 8px); } td.cdk-drop-list-dragging { outline: 2px dashed var(--brass); outline-offset: -2px; }
    button { display: flex; flex-direction: column; gap: 4px; width: 108px; text-align: left; border: 1px solid var(--line); border-radius: 3px; background: var(--field); padding: 3px 5px; margin-bottom: 3px; font: 520 12px/1.15 var(--serif); cursor: pointer; } button.warned { border-left: 3px solid var(--brass); } button.late { border-color: var(--madder); background: var(--madder-wash); } button:hover { border-color: var(--soft); }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ByPerson {
  protected readonly planner = inject(PlannerService);
  protected readonly carry = inject(CarryService);
  readonly opened = output<PlannerCard>();
  readonly dropped = output<CardDrop>();
  readonly keyed = output<{ event: KeyboardEvent; post: PlannerCard }>();

  protected readonly days = computed(() => this.planner.weeks().flatMap((w) => w.days).map((d) => ({
    date: d.date, today: d.today, weekend: d.weekend, label: d.weekend ? WEEKDAYS[weekday(d.date) - 1]![0]! : `${WEEKDAYS[weekday(d.date) - 1]!.slice(0, 2)} ${d.number}`,
  })));

  protected readonly lanes = computed((): Lane[] => {
    const view = this.planner.view();
    if (!view) return [];
    const starts = this.planner.weeks().map((w) => w.days[0]!.date);
    const chosen = this.planner.filter().personId;
    const byCell = new Map<string, PlannerCard[]>();
    for (const post of this.planner.shown()) {
      const key = `${post.byline?.id ?? 0}|${post.runLocal!.slice(0, 10)}`;
      byCell.set(key, [...(byCell.get(key) ?? []), post]);
    }
    const load = view.dated.map((p) => ({ runLocal: p.runLocal!, stage: p.stage, bylineId: p.byline?.id ?? null }));
    const lane = (person: (PersonRef & { capacity: number | null }) | null): Lane => ({
      key: String(person?.id ?? 0), person, capacity: person?.capacity ?? null,
      loads: weekLoads({ id: person?.id ?? 0, capacity: person?.capacity ?? null }, load, view.absences, starts).map((l) => ({ ...l, words: sayLoad(l), over: l.fits !== null && l.posts > l.fits })),
      cells: this.days().map(({ date, weekend }) => {
        const absence = person && view.absences.find((a) => a.personId === person.id && a.from <= date && a.to >= date);
        const away = absence ? `${person.name} is ${sayAbsence(absence, view.today)}${absence.note ? `: ${absence.note}` : ''}` : null;
        return { date, weekend, away, posts: byCell.get(`${person?.id ?? 0}|${date}`) ?? [], place: { date, byline: person && { id: person.id, name: person.name, initials: person.initials } }, words: `${person?.name ?? 'Nobody yet'}, ${sayDate(date)}${absence ? ', away' : ''}` };
      }),
    });
    const known = new Set(view.writers.map((w) => w.id));
    // Somebody who left may still be credited here.
    const gone = [...new Map(this.planner.shown().flatMap((p) => (p.byline && !known.has(p.byline.id) ? [[p.byline.id, { ...p.byline, capacity: null }] as const] : []))).values()];
    const people = [...view.writers, ...gone].filter((w) => chosen === null || w.id === chosen);
    const nobody = lane(null);
    return [...people.map(lane), ...(chosen === null && nobody.cells.some((c) => c.posts.length > 0) ? [nobody] : [])];
  });

  protected said(post: PlannerCard): string {
    return this.planner.warningsOf(post).map((w) => w.sentence).join(' ');
  }
}
