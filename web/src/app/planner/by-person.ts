import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import type { PersonRef, PostCard } from '@keyroster/contract';
import { WEEKDAYS, sayCount, weekday } from '@keyroster/core';
import { PersonBadge } from '../ui/person-badge';
import { BittingMark } from '../ui/bitting-mark';
import { PlannerService } from './planner.service';

/** A lane for each writer, days across: who carries what, and when. */
@Component({
  selector: 'kr-by-person',
  imports: [PersonBadge, BittingMark],
  template: `
    <div class="scroll" tabindex="0" role="region" aria-label="Posts by person, day by day">
      <table>
        <caption class="unseen">Posts by person</caption>
        <thead><tr><th scope="col">Person</th>@for (day of days(); track day.date) { <th scope="col" [class.today]="day.today" [class.weekend]="day.weekend">{{ day.label }}</th> }</tr></thead>
        <tbody>
          @for (lane of lanes(); track lane.key) {
            <tr><th scope="row">@if (lane.person) { <kr-person [person]="lane.person" /> } @else { nobody yet }<small>{{ lane.load }}</small></th>
              @for (cell of lane.cells; track cell.date) {
                <td [class.weekend]="cell.weekend">@for (post of cell.posts; track post.id) {
                  <button [class.late]="post.late" [attr.data-card]="post.id" (click)="opened.emit(post)" (keydown)="keyed.emit({ event: $event, post })">{{ post.title }}<kr-mark [stage]="post.stage" [late]="post.late" [width]="26" /></button> }</td>
              }</tr>
          }
        </tbody>
      </table>
    </div>
    @if (lanes().length === 0) { <p class="soft" style="padding: 16px 0">Nobody has a dated post in these weeks.</p> }
  `,
  styles: `
    .scroll { overflow: auto; border: 1px solid var(--line); background: var(--sheet); } table { border-collapse: collapse; } th, td { border-bottom: 1px solid var(--hair); border-left: 1px solid var(--hair); vertical-align: top; padding: 4px; min-width: 54px; }
    thead th { font-weight: 600; font-size: 11px; color: var(--soft); white-space: nowrap; border-bottom: 2px solid var(--ink); } thead .today { color: var(--verdigris); font-weight: 700; }
    th:first-child { position: sticky; left: 0; background: var(--sheet); min-width: 150px; text-align: left; font-weight: 550; z-index: 1; } th small { display: block; color: var(--soft); font-weight: 450; margin: 3px 0 0 30px; }
    .weekend { background: repeating-linear-gradient(135deg, transparent 0 5px, color-mix(in srgb, var(--ink) 4%, transparent) 5px 6px); min-width: 26px; }
    button { display: flex; flex-direction: column; gap: 4px; width: 108px; text-align: left; border: 1px solid var(--line); border-radius: 3px; background: var(--field); padding: 3px 5px; margin-bottom: 3px; font: 520 12px/1.15 var(--serif); cursor: pointer; } button.late { border-color: var(--madder); background: var(--madder-wash); } button:hover { border-color: var(--soft); }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ByPerson {
  private readonly planner = inject(PlannerService);
  readonly opened = output<PostCard>();
  readonly keyed = output<{ event: KeyboardEvent; post: PostCard }>();

  protected readonly days = computed(() => this.planner.weeks().flatMap((w) => w.days).map((d) => ({
    date: d.date, today: d.today, weekend: d.weekend, label: d.weekend ? WEEKDAYS[weekday(d.date) - 1]![0]! : `${WEEKDAYS[weekday(d.date) - 1]!.slice(0, 2)} ${d.number}`,
  })));

  protected readonly lanes = computed(() => {
    const people = new Map<string, { person: PersonRef | null; posts: PostCard[] }>();
    for (const post of this.planner.shown()) {
      const key = post.byline ? `${post.byline.name}#${post.byline.id}` : '~';
      const lane = people.get(key) ?? { person: post.byline, posts: [] };
      lane.posts.push(post);
      people.set(key, lane);
    }
    return [...people].sort(([a], [b]) => a.localeCompare(b)).map(([key, { person, posts }]) => {
      const unfinished = posts.filter((p) => p.stage === 'commissioned' || p.stage === 'drafting').length;
      return {
        key, person, load: `${sayCount(posts.length, 'post')}${unfinished ? `, ${unfinished} to write` : ''}`,
        cells: this.days().map(({ date, weekend }) => ({ date, weekend, posts: posts.filter((p) => p.runLocal!.startsWith(date)) })),
      };
    });
  });
}
