import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { EvergreenView, PiecesMade } from '@keyroster/contract';
import { PIECE_KINDS, sayCount, sayShortDate, type PieceKind } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { OutletsHead } from './outlets-head';
import { OutletsService } from './outlets.service';
import { sayDue } from './say-piece';

/** Older posts that did well and were not passed on lately, in a rotation over the outlets, each within its outlet's pace. */
@Component({
  imports: [RouterLink, OutletsHead],
  providers: [OutletsService],
  template: `
    <div class="screen">
      <kr-outlets-head name="Evergreen" />
      <p class="soft lead">Older posts that did better than most of their age and have not been passed on lately, best first, no category twice in a row. New pieces are made of them; each waits for approval like any other.</p>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      @if (done(); as d) { <p class="done" role="status">{{ said(d) }} @if (d.made.length > 0) { <a routerLink="/planner">They stand in the planner</a> when pieces are shown there. }</p> }
      <div class="row ask"><label>Rested for <input type="number" min="1" max="3650" [value]="rest()" (change)="rest.set(within($any($event.target).value, 1, 3650, 60))" /> days</label><label>One every <input type="number" min="1" max="60" [value]="every()" (change)="every.set(within($any($event.target).value, 1, 60, 2))" /> days</label><label>at <input type="time" [value]="time()" (change)="time.set($any($event.target).value || '12:30')" /></label><label>as <select (change)="kind.set($any($event.target).value || null)"><option value="">what suits each outlet</option>@for (k of kinds; track k) { <option [selected]="k === kind()">{{ k }}</option> }</select></label><label class="grow">with the instruction <input maxlength="1000" [value]="instruction()" (input)="instruction.set($any($event.target).value)" placeholder="warm, at most 200 characters" /></label></div>
      <table><caption class="unseen">A proposed rotation</caption><thead><tr><th scope="col"><span class="unseen">Chosen</span></th><th scope="col">Post</th><th scope="col">Why</th><th scope="col">Outlet</th><th scope="col">Goes out</th></tr></thead>
        <tbody>@for (e of proposed() ?? []; track e.id) { <tr [class.gone]="left().has(e.id)"><td><input type="checkbox" [checked]="!left().has(e.id)" [attr.aria-label]="'Pass on ' + e.title" (change)="leave(e.id)" /></td><td><a [routerLink]="['/posts', e.id, 'spinoffs']">{{ e.title }}</a><small>released {{ day(e.released) }}</small></td><td>{{ e.why }}</td><td>{{ e.outlet }}</td><td>{{ due(e.local) }}</td></tr> }
          @empty { <tr><td colspan="5" class="soft">{{ proposed() ? 'No post is rested and did better than the middle one, or there is no outlet to pass it on to.' : '' }}</td></tr> }</tbody></table>
      @if (session.may('sendPieces') && chosen().length > 0) { <button class="btn act" [disabled]="busy()" (click)="plan()">Make {{ count(chosen().length) }}</button> }
    </div>
  `,
  styles: `.lead { max-width: 76ch; margin-bottom: 14px; } .ask { gap: 8px 16px; margin-bottom: 12px; } .ask label { display: flex; gap: 6px; align-items: center; white-space: nowrap; } .ask input[type='number'] { width: 70px; } .ask input[type='time'] { width: 96px; } .ask select { width: auto; } .grow { flex: 1; min-width: 260px; } table { width: 100%; border-collapse: collapse; background: var(--sheet); border: 1px solid var(--line); margin-bottom: 12px; } th { text-align: left; font-weight: 600; color: var(--soft); border-bottom: 2px solid var(--ink); padding: 7px 10px; } td { padding: 8px 10px; border-bottom: 1px solid var(--hair); vertical-align: top; } small { display: block; color: var(--soft); } td a { font: 560 15px var(--serif); } .gone td { color: var(--soft); } .done { background: var(--verdigris-wash); border-radius: 4px; padding: 7px 10px; margin-bottom: 10px; } @media (max-width: 620px) { th:nth-child(3), td:nth-child(3) { display: none; } }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class EvergreenPage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  protected readonly proposed = signal<EvergreenView[] | null>(null);
  protected readonly left = signal<ReadonlySet<number>>(new Set());
  protected readonly rest = signal(60);
  protected readonly every = signal(2);
  protected readonly time = signal('12:30');
  protected readonly kind = signal<PieceKind | null>(null);
  protected readonly instruction = signal('');
  protected readonly fault = signal('');
  protected readonly busy = signal(false);
  protected readonly done = signal<PiecesMade | null>(null);
  protected readonly kinds = PIECE_KINDS.filter((k) => k !== 'digest');
  protected readonly chosen = computed(() => (this.proposed() ?? []).filter((e) => !this.left().has(e.id)));
  protected readonly count = (n: number) => sayCount(n, 'piece');
  protected readonly day = (date: string) => `${sayShortDate(date)} ${date.slice(0, 4)}`;
  protected readonly due = sayDue;
  protected readonly within = (typed: string, least: number, most: number, usual: number) => Math.max(least, Math.min(most, Math.trunc(Number(typed)) || usual));
  protected readonly said = (d: PiecesMade) => [`${this.count(d.made.length)} made.`, ...d.refused].join(' ');

  constructor() {
    effect(() => void this.propose(this.rest(), this.every(), this.time()));
  }

  private async propose(restDays: number, everyDays: number, time: string): Promise<void> {
    try {
      this.proposed.set(await this.api.call('evergreens.see', { query: { restDays, everyDays, time } }));
      this.fault.set('');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }

  protected leave(id: number): void {
    this.left.update((all) => { const next = new Set(all); if (!next.delete(id)) next.add(id); return next; });
  }

  protected async plan(): Promise<void> {
    this.busy.set(true);
    try {
      this.done.set(await this.api.call('evergreens.plan', { body: { stops: this.chosen().map((e) => ({ postId: e.id, outletId: e.outletId, local: e.local })), kind: this.kind(), instruction: this.instruction().trim() } }));
      this.fault.set('');
      await this.propose(this.rest(), this.every(), this.time());
    } catch (error) {
      this.fault.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
