import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { SEND_STATES, type SendState, type SendView, type SendWhole } from '@keyroster/contract';
import { sayClock, sayShortDate, wallTimeOf } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { OutletsHead } from './outlets-head';
import { OutletsService } from './outlets.service';
import { capital, saySendState } from './say-piece';

/** What went out, what goes out next, and what needs a person: nothing is sent twice, and nothing is lost in silence. */
@Component({
  imports: [RouterLink, OutletsHead],
  providers: [OutletsService],
  template: `
    <div class="screen">
      <kr-outlets-head name="Send log" />
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      <div class="row filter"><label>State <select (change)="go({ state: $any($event.target).value || null })"><option value="">all</option>@for (s of states; track s) { <option [value]="s" [selected]="s === state()">{{ sayState(s) }}</option> }</select></label>
        <label>Outlet <select (change)="go({ outlet: $any($event.target).value || null })"><option value="">all</option>@for (o of outlets.outlets() ?? []; track o.id) { <option [value]="o.id" [selected]="'' + o.id === outlet()">{{ o.name }}</option> }</select></label></div>
      <table><caption class="unseen">Pieces on their way, those that need a person first</caption>
        <thead><tr><th scope="col">State</th><th scope="col">Piece</th><th scope="col">Outlet</th><th scope="col">Due</th><th scope="col">Sent</th><th scope="col" class="n">Tries</th><th scope="col"><span class="unseen">Actions</span></th></tr></thead>
        <tbody>@for (s of sends(); track s.id) {
          <tr [class.needs]="s.state === 'unsure' || s.state === 'failed'"><td><b [class.bad]="s.state === 'failed' || s.state === 'unsure'">{{ sayState(s.state) }}</b>@if (s.fault) { <small>{{ s.fault }}</small> }@if (s.state === 'waiting' && s.nextAt) { <small>tried again {{ at(s.nextAt) }}</small> }</td>
            <td><a [routerLink]="['/posts', s.postId, 'spinoffs']" [queryParams]="{ piece: s.pieceId }">{{ capital(s.kind) }}</a> of {{ s.post }}<small>{{ s.opening }}{{ s.opening.length === 90 ? ' …' : '' }}</small></td><td>{{ s.outlet }}</td><td>{{ s.dueLocal ? local(s.dueLocal) : 'no run time yet' }}</td><td>{{ s.sentAt ? at(s.sentAt) : '' }}@if (s.url) { <a class="see" [href]="s.url" target="_blank" rel="noopener">see it</a> }</td><td class="n">{{ s.attempts }}</td>
            <td class="acts">@if (may() && s.state === 'unsure') { <button class="btn small" (click)="answer(s, true)">It is there</button>&ngsp;<button class="btn small" (click)="answer(s, false)">It is not: send it</button> } @if (may() && (s.state === 'failed' || (s.state === 'waiting' && s.fault))) { <button class="btn small" (click)="again(s)">Try again</button> } <button class="btn small" [attr.aria-expanded]="looked()?.id === s.id" (click)="go({ look: looked()?.id === s.id ? null : s.id })">{{ looked()?.id === s.id ? 'Hide' : 'Tries' }}</button></td></tr>
          @if (looked(); as w) { @if (w.id === s.id) { <tr><td colspan="7" class="tries"><ol>@for (l of w.log; track $index) { <li><time>{{ at(l.at, true) }}</time>&ngsp;<b>{{ l.outcome === 'again' ? 'tried' : l.outcome === 'no' ? 'refused' : l.outcome }}</b>&ngsp;{{ l.sentence }}</li> } @empty { <li class="soft">Not tried yet.</li> }</ol><p class="soft">Approved by {{ w.approvedBy ?? 'somebody who has left' }}. Known to the outlet by the key {{ w.key }}.</p></td></tr> } }
        } @empty { <tr><td colspan="7" class="soft">{{ loaded() ? 'Nothing here. Pieces come into this log when they are approved.' : '' }}</td></tr> }</tbody></table>
      @if (sends().length >= 100) { <p class="soft">The newest hundred are shown. Choose a state or an outlet to see others.</p> }
    </div>
  `,
  styles: `.filter { margin-bottom: 10px; gap: 16px; } .filter label { display: flex; gap: 6px; align-items: center; } .filter select { width: auto; } table { width: 100%; border-collapse: collapse; background: var(--sheet); border: 1px solid var(--line); } th { text-align: left; font-weight: 600; color: var(--soft); border-bottom: 2px solid var(--ink); padding: 7px 10px; white-space: nowrap; } td { padding: 7px 10px; border-bottom: 1px solid var(--hair); vertical-align: top; overflow-wrap: anywhere; } td:first-child { width: 200px; } small { display: block; color: var(--soft); } .n { text-align: right; } .bad { color: var(--madder); } .needs { background: var(--madder-wash); } .needs small { color: var(--ink); } .see { display: block; } .acts { text-align: right; white-space: nowrap; } .acts .btn + .btn { margin-left: 6px; } td:nth-child(4), td:nth-child(5) { white-space: nowrap; } .tries { background: var(--paper); } ol { margin: 0 0 6px; padding-left: 18px; } time { color: var(--soft); } @media (max-width: 760px) { thead { display: none; } tr, td { display: block; border-bottom: 0; padding: 3px 10px; } td:first-child { width: auto; } tr { border-bottom: 1px solid var(--line); padding: 6px 0; } .acts, .n { text-align: left; white-space: normal; } .n { display: none; } }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SendLogPage {
  protected readonly outlets = inject(OutletsService);
  private readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  readonly state = input<string>();
  readonly outlet = input<string>();
  readonly look = input<string>();
  protected readonly states = SEND_STATES;
  protected readonly sends = signal<SendView[]>([]);
  protected readonly looked = signal<SendWhole | null>(null);
  protected readonly loaded = signal(false);
  protected readonly fault = signal('');
  protected readonly capital = capital;
  protected readonly sayState = saySendState;
  protected readonly may = computed(() => this.session.may('sendPieces'));

  constructor() {
    effect(() => { this.state(); this.outlet(); untracked(() => void this.load()); });
    effect(() => { const id = Number(this.look()); untracked(() => void this.open(id)); });
    inject(Live).gathered(['outlet'], () => { void this.load(); void this.open(Number(this.look())); });
  }

  protected readonly local = (wall: string) => `${sayShortDate(wall, new Date().toISOString())} ${sayClock(wall)}`;
  protected at(instant: string, seconds = false): string {
    const wall = wallTimeOf(instant, this.session.blog()?.zone ?? 'UTC');
    return `${sayShortDate(wall, new Date().toISOString())} ${seconds ? wall.slice(11, 19) : sayClock(`${wall.slice(0, 16)}:00`)}`;
  }

  protected go(queryParams: Record<string, string | number | null>): void {
    void this.router.navigate([], { queryParams, queryParamsHandling: 'merge' });
  }

  private async load(): Promise<void> {
    try {
      const state = SEND_STATES.includes(this.state() as SendState) ? (this.state() as SendState) : undefined;
      this.sends.set(await this.api.call('sends.list', { query: { ...(state ? { state } : {}), ...(Number(this.outlet()) ? { outlet: Number(this.outlet()) } : {}) } }));
      this.loaded.set(true);
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }

  private async open(id: number): Promise<void> {
    this.looked.set(id ? await this.api.call('sends.see', { id }).catch(() => null) : null);
  }

  protected answer(send: SendView, there: boolean): Promise<void> {
    return this.act(() => this.api.call('sends.answer', { id: send.id, body: { there } }));
  }
  protected again(send: SendView): Promise<void> {
    return this.act(() => this.api.call('sends.again', { id: send.id, body: {} }));
  }

  private async act(ask: () => Promise<unknown>): Promise<void> {
    try {
      await ask();
      this.fault.set('');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
    await this.load();
  }
}
