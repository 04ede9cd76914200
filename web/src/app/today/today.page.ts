import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { SendView, TodayView } from '@keyroster/contract';
import { sayClock, sayCount, sayDate, sayShortDate, startOfWeek, type Need, type NeedKind } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { CategoryTab } from '../ui/category-tab';

const GROUPS: { kind: NeedKind; heading: string; act: string }[] = [
  { kind: 'late', heading: 'Late', act: 'Look into it' },
  { kind: 'change', heading: 'Changes asked for', act: 'Work on it' },
  { kind: 'write', heading: 'To write', act: 'Write' },
  { kind: 'review', heading: 'Waiting for review', act: 'Read' },
  { kind: 'proofread', heading: 'To proofread', act: 'Read' },
  { kind: 'schedule', heading: 'Cleared, not scheduled', act: 'Schedule' },
  { kind: 'goes out', heading: 'Goes out today and tomorrow', act: 'See' },
  { kind: 'on its way', heading: 'Yours, on its way', act: 'See' },
];

@Component({
  imports: [RouterLink, CategoryTab],
  template: `
    <div class="screen">
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      @if (view(); as v) {
        <h1>{{ greeting() }}</h1>
        <p class="lead">{{ summary() }}</p>
        <div class="columns">
          <div>
            @for (group of groups(); track group.kind) {
              <section [attr.aria-label]="group.heading" [class.late]="group.kind === 'late'">
                <h2>{{ group.heading }} <span>{{ group.needs.length }}</span></h2>
                <ul>
                  @for (need of group.needs; track need.postId) {
                    <li><a [routerLink]="['/posts', need.postId]"><b>{{ need.title }}</b><span [class.madder]="need.late">{{ need.why }}</span><em>{{ group.act }}</em></a></li>
                  }
                </ul>
              </section>
            } @empty {
              <section class="calm"><h2>Nothing waits for you</h2><p class="soft">{{ session.may('pitch') ? 'A good hour for a pitch: press P and type the title.' : 'What you are put on will stand here.' }}</p></section>
            }
          </div>
          <aside>
            @if (sends().length > 0) {
              <section class="late" aria-label="To see to at the outlets"><h2>At the outlets <span>{{ sends().length }}</span></h2>
                <ul class="out">@for (s of sends().slice(0, 6); track s.id) { <li><a routerLink="/outlets/log" [queryParams]="{ look: s.id }">{{ s.post }}</a> <span class="madder">{{ s.state === 'unsure' ? 'may have been sent' : 'not sent' }}</span></li> }</ul></section>
            }
            <section aria-label="Open slots"><h2>Open slots <span>{{ v.openSlots.length }}</span></h2>
              @if (v.openSlots.length > 0) {
                <ul class="slots">
                  @for (slot of v.openSlots.slice(0, 8); track slot.date + slot.slotId) {
                    <li><a routerLink="/planner" [queryParams]="{ from: week(slot.date), day: slot.date }"><span>{{ short(slot.date) }} {{ slot.time }}</span><kr-category [id]="slot.categoryId" /></a></li>
                  }
                </ul>
                @if (v.openSlots.length > 8) { <p class="soft">and {{ v.openSlots.length - 8 }} more within three weeks</p> }
              } @else { <p class="soft">Every slot of the next three weeks has a post.</p> }
            </section>
            <section aria-label="Lately released"><h2>Lately released</h2>
              <ul class="out">
                @for (post of v.lately; track post.postId) { <li><a [href]="'/' + post.address" target="_blank" rel="noopener">{{ post.title }}</a> <span class="soft">{{ short(post.releasedLocal) }} {{ clock(post.releasedLocal) }}</span></li> }
                @empty { <li class="soft">Nothing is out yet.</li> }
              </ul>
            </section>
          </aside>
        </div>
      }
    </div>
  `,
  styles: `
    h1 { font-size: 26px; } .lead { margin: 4px 0 18px; color: var(--soft); font-size: 14px; }
    .columns { display: grid; grid-template-columns: minmax(0, 1fr) 330px; gap: 36px; align-items: start; }
    section { margin-bottom: 22px; } h2 { border-top: 2px solid var(--ink); padding: 6px 0 4px; display: flex; justify-content: space-between; align-items: baseline; } h2 span { font: 600 13px var(--sans); color: var(--soft); }
    .late h2 { border-color: var(--madder); color: var(--madder); } .late h2 span { color: inherit; }
    ul { list-style: none; margin: 0; padding: 0; }
    li a { text-decoration: none; }
    .columns > div li a { display: grid; grid-template-columns: minmax(0, 1fr) auto auto; gap: 14px; align-items: baseline; padding: 8px 10px; background: var(--sheet); border: 1px solid var(--line); border-top-width: 0; color: var(--ink); outline-offset: -2px; }
    .columns > div li:first-child a { border-top-width: 1px; border-radius: 4px 4px 0 0; } .columns > div li:last-child a { border-bottom-left-radius: 4px; border-bottom-right-radius: 4px; }
    .columns > div li a:hover { background: var(--verdigris-wash); }
    li b { font: 540 16px/1.25 var(--serif); } li span { color: var(--soft); } li em { font-style: normal; font-weight: 600; color: var(--verdigris); min-width: 76px; text-align: right; }
    li span.madder { color: var(--madder); }
    .slots a { display: flex; justify-content: space-between; padding: 5px 0; border-bottom: 1px solid var(--hair); color: var(--brass); } .slots a:hover { text-decoration: underline; }
    .out li { padding: 5px 0; border-bottom: 1px solid var(--hair); display: flex; justify-content: space-between; gap: 10px; } .out a { color: var(--ink); font: 500 14px/1.25 var(--serif); } .out span { white-space: nowrap; }
    aside p { padding-top: 6px; } .calm { background: var(--sheet); border: 1px solid var(--line); border-radius: 4px; padding: 14px 16px; } .calm h2 { border: 0; padding-top: 0; }
    @media (max-width: 900px) { .columns { grid-template-columns: minmax(0, 1fr); gap: 10px; } .columns > div li a { grid-template-columns: minmax(0, 1fr) auto; } li b { grid-column: 1 / -1; } }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TodayPage {
  private readonly api = inject(Api);
  protected readonly session = inject(SessionService);
  protected readonly view = signal<TodayView | null>(null);
  protected readonly fault = signal('');
  /** Pieces that only a person can settle. */
  protected readonly sends = signal<SendView[]>([]);
  protected readonly short = (date: string) => sayShortDate(date, this.view()?.today);
  protected readonly clock = sayClock;
  protected readonly week = (date: string) => startOfWeek(date, this.session.blog()?.firstWeekday ?? 1);

  protected readonly groups = computed(() => {
    const needs = this.view()?.needs ?? [];
    return GROUPS.map((group) => ({ ...group, needs: needs.filter((n: Need) => n.kind === group.kind) })).filter((group) => group.needs.length > 0);
  });
  protected readonly greeting = computed(() => sayDate(this.view()?.today ?? '2000-01-01'));
  protected readonly summary = computed(() => {
    const of = (kind: NeedKind) => this.view()?.needs.filter((n) => n.kind === kind).length ?? 0;
    const parts: string[] = [
      ...(of('late') ? [`${of('late')} late`] : []), ...(of('review') ? [`${sayCount(of('review'), 'post')} to read`] : []), ...(of('schedule') ? [`${of('schedule')} to schedule`] : []),
      ...(of('change') ? [`${of('change')} to change`] : []), ...(of('write') ? [`${of('write')} to write`] : []), ...(of('proofread') ? [`${of('proofread')} to proofread`] : []), ...(this.sends().length > 0 ? [`${sayCount(this.sends().length, 'piece')} to see to at the outlets`] : []),
    ];
    return parts.length > 0 ? `What needs you now: ${parts.join(', ')}.` : 'Nothing needs you now.';
  });

  constructor() {
    void this.refresh();
    void this.seeSends();
    inject(Live).whenever(['outlet'], () => void this.seeSends());
    inject(Live).whenever(['post', 'note', 'blog'], () => void this.refresh());
  }

  private async seeSends(): Promise<void> {
    if (!this.session.may('sendPieces')) return;
    const asked = (['unsure', 'failed'] as const).map((state) => this.api.call('sends.list', { query: { state } }));
    this.sends.set((await Promise.all(asked).catch(() => [this.sends()])).flat());
  }

  private async refresh(): Promise<void> {
    try {
      this.view.set(await this.api.call('today.see', {}));
      this.fault.set('');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }
}
