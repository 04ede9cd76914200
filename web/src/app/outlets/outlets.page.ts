import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import type { OutletView } from '@keyroster/contract';
import { sayCount } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { OutletForm } from './outlet-form';
import { OutletsHead } from './outlets-head';
import { OutletsService } from './outlets.service';

const SPEAKS: Record<OutletView['protocol'], string> = { micropub: 'Micropub', mail: 'mail', feed: 'feed', webhook: 'webhook' };

/** The places that pieces go to: what each takes, what waits for it, and whether it is paused. */
@Component({
  imports: [RouterLink, OutletsHead, OutletForm],
  providers: [OutletsService],
  template: `
    <div class="screen">
      <kr-outlets-head name="Outlets" />
      <p class="soft lead">A post is made into pieces for each of these places: open a post and choose “Spin-offs”. Pieces go out when they are due, once, in their outlet’s pace.</p>
      <div class="columns" [class.open]="chosen() !== null">
        <section aria-label="The outlets">
          <table><caption class="unseen">Outlets</caption><thead><tr><th scope="col">Outlet</th><th scope="col">Kind</th><th scope="col">Takes</th><th scope="col" class="n">Waiting</th><th scope="col" class="n">Sent</th><th scope="col"><span class="unseen">Actions</span></th></tr></thead>
            <tbody>@for (o of outlets.outlets() ?? []; track o.id) {
              <tr [class.on]="o.id === chosenId()" [class.gone]="o.closed"><td><button class="name" (click)="open(o.id)">{{ o.name }}</button>@if (o.needsPerson > 0) { <a class="needs" routerLink="/outlets/log" [queryParams]="{ outlet: o.id }">{{ count(o.needsPerson) }} to see to</a> }@if (o.restingUntil) { <small class="brass">rests after failures</small> }@if (o.paused) { <small class="brass">paused</small> }@if (o.closed) { <small>closed</small> }</td>
                <td>{{ o.kind }}<small>{{ speaks[o.protocol] }}</small></td><td>{{ takes(o) }}<small>{{ pace(o) }}</small></td><td class="n">{{ o.waiting }}</td><td class="n">{{ o.sent }}</td>
                <td class="acts">@if (session.may('sendPieces') && !o.closed) { <button class="btn small" (click)="outlets.change(o, { paused: !o.paused }, o.paused ? o.name + ' goes on.' : o.name + ' is paused: its pieces wait.')">{{ o.paused ? 'Go on' : 'Pause' }}<span class="unseen"> {{ o.name }}</span></button> }</td></tr>
            } @empty { @if (outlets.outlets()) { <tr><td colspan="6" class="soft">No outlet yet. A good first one: the place where your readers already ask for news.</td></tr> } }</tbody></table>
          @if (manages()) { <button class="btn" [class.act]="outlets.outlets()?.length === 0" (click)="open('new')">New outlet</button> }
        </section>
        @if (chosen() !== null) { <kr-outlet-form [outlet]="one()" [manages]="manages()" (closed)="open(null)" (stored)="open($event.id)" /> }
      </div>
    </div>
  `,
  styles: `
    .lead { max-width: 72ch; margin-bottom: 14px; } .columns.open { display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1fr); gap: 20px; align-items: start; } table { width: 100%; border-collapse: collapse; background: var(--sheet); border: 1px solid var(--line); margin-bottom: 12px; } th { text-align: left; font-weight: 600; color: var(--soft); border-bottom: 2px solid var(--ink); padding: 7px 10px; } td { padding: 8px 10px; border-bottom: 1px solid var(--hair); vertical-align: top; } .n { text-align: right; } .on { background: var(--verdigris-wash); } .gone { color: var(--soft); } small { display: block; color: var(--soft); } .brass { color: var(--brass); } .needs { display: block; color: var(--madder); font-weight: 600; font-size: 12px; }
    .name { border: 0; background: none; padding: 0; font: 560 16px var(--serif); cursor: pointer; text-align: left; } .name:hover { text-decoration: underline; } .acts { text-align: right; } .open th:nth-child(3), .open td:nth-child(3) { display: none; } @media (max-width: 1000px) { .columns.open { grid-template-columns: minmax(0, 1fr); } } @media (max-width: 620px) { th:nth-child(2), td:nth-child(2), th:nth-child(3), td:nth-child(3) { display: none; } }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OutletsPage {
  protected readonly outlets = inject(OutletsService);
  protected readonly session = inject(SessionService);
  private readonly router = inject(Router);
  /** An outlet's number, or `new`. */
  readonly look = input<string>();
  protected readonly speaks = SPEAKS;
  protected readonly manages = computed(() => this.session.may('manageOutlets'));
  protected readonly chosenId = computed(() => Number(this.look()) || null);
  protected readonly one = computed(() => (this.outlets.outlets() ?? []).find((o) => o.id === this.chosenId()) ?? null);
  protected readonly chosen = computed(() => (this.look() === 'new' && this.manages() ? 'new' : this.one()));
  protected readonly count = (n: number) => sayCount(n, 'piece');

  protected open(look: number | 'new' | null): void {
    void this.router.navigate([], { queryParams: { look } });
  }

  protected takes({ limits }: OutletView): string {
    return [limits.length ? `${limits.length.most.toLocaleString('en-GB')} ${limits.length.unit}` : 'any length', limits.links ? '' : 'no links', limits.tags > 0 ? `${limits.tags} tags` : 'no tags', limits.shapes.length === 3 ? '' : limits.shapes.join(' or ')].filter(Boolean).join(', ');
  }

  protected pace({ limits }: OutletView): string {
    return [limits.perHour ? `${limits.perHour} an hour` : '', limits.perDay ? `${limits.perDay} a day` : '', limits.quiet ? `quiet ${limits.quiet.from}–${limits.quiet.until}` : ''].filter(Boolean).join(', ') || 'at any pace';
  }
}
