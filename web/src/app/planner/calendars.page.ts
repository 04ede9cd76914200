import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { CalendarKind, CalendarView } from '@keyroster/contract';
import { sayShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { PersonBadge } from '../ui/person-badge';
import { Say } from '../ui/say.service';

const KINDS: { kind: CalendarKind; name: string; words: string }[] = [
  { kind: 'runs', name: 'The whole calendar', words: 'Every post at its run time, and the slots that are open in the next 13 weeks.' },
  { kind: 'copy', name: 'My copy dates', words: 'What I still have to hand in, on the day it is due.' },
];

/** Addresses that a calendar program can subscribe to. Each holds a secret; whoever has it can read, until it is ended. */
@Component({
  imports: [RouterLink, PersonBadge],
  template: `
    <div class="screen">
      <p class="back"><a routerLink="/planner">Planner</a></p>
      <h1>Calendars to subscribe to</h1>
      <p class="soft lead">An address for the calendar program on your desk or phone (iCalendar). It needs no sign-in: whoever has the address can read it. It is shown once, when it is made; making a new one ends the one before.</p>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      <div class="two">@for (k of kinds(); track k.kind) {
        <section class="sheet" [attr.aria-label]="k.name"><h2>{{ k.name }}</h2><p class="soft">{{ k.words }}</p>
          @if (addresses()[k.kind]; as address) {
            <label class="field"><span>Subscribe to this address</span><input readonly [value]="address" (focus)="$any($event.target).select()" /></label>
            <p class="row"><button class="btn" (click)="copy(address)">Copy it</button></p>
          }
          @if (own(k.kind); as c) { <p>Made {{ short(c.madeAt) }}; {{ c.lastReadAt ? 'last read ' + short(c.lastReadAt) : 'not read yet' }}.</p>
            <p class="row"><button class="btn" (click)="make(k.kind)">Make a new address</button><button class="btn" (click)="revoke(c)">End this address</button></p> }
          @else { <p class="row"><button class="btn act" (click)="make(k.kind)">Make an address</button></p> }
        </section> }
      </div>
      @if (others().length > 0) {
        <h2>Addresses of others</h2>
        <table class="list"><caption class="unseen">Addresses of others</caption><thead><tr><th scope="col">Whose</th><th scope="col">What</th><th scope="col">Made</th><th scope="col">Last read</th><th scope="col"><span class="unseen">End</span></th></tr></thead>
          <tbody>@for (c of others(); track c.id) { <tr><td><kr-person [person]="c.person" /></td><td>{{ c.kind === 'runs' ? 'the whole calendar' : 'their copy dates' }}</td><td>{{ short(c.madeAt) }}</td><td>{{ c.lastReadAt ? short(c.lastReadAt) : 'never' }}</td><td><button class="btn small" [attr.aria-label]="'End the address of ' + c.person.name" (click)="revoke(c)">End it</button></td></tr> }</tbody></table>
      }
    </div>
  `,
  styleUrl: './side-page.scss',
  styles: `.two { display: grid; grid-template-columns: repeat(2, minmax(0, 1fr)); gap: 18px; max-width: 980px; margin-bottom: 22px; } .sheet > * { margin-bottom: 10px; } @media (max-width: 900px) { .two { grid-template-columns: minmax(0, 1fr); } }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CalendarsPage {
  private readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  private readonly calendars = signal<CalendarView[]>([]);
  /** Known only for what was made on this page. */
  protected readonly addresses = signal<Partial<Record<CalendarKind, string>>>({});
  protected readonly fault = signal('');
  protected readonly kinds = computed(() => KINDS.filter((k) => k.kind === 'copy' || this.session.me()?.role !== 'proofreader'));
  protected readonly others = computed(() => this.calendars().filter((c) => !c.mine));
  protected readonly own = (kind: CalendarKind) => this.calendars().find((c) => c.mine && c.kind === kind);
  protected readonly short = (at: string) => sayShortDate(at, new Date().toISOString().slice(0, 10));

  constructor() {
    void this.refresh();
  }

  protected async make(kind: CalendarKind): Promise<void> {
    try {
      const { address } = await this.api.call('calendars.make', { body: { kind } });
      this.addresses.update((known) => ({ ...known, [kind]: address }));
      this.fault.set('');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
    await this.refresh();
  }

  protected async revoke(calendar: CalendarView): Promise<void> {
    try {
      await this.api.call('calendars.revoke', { id: calendar.id });
      if (calendar.mine) this.addresses.update((known) => ({ ...known, [calendar.kind]: undefined }));
      this.say.done('The address has ended. Programs that read it find nothing any more.');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
    await this.refresh();
  }

  protected async copy(address: string): Promise<void> {
    try {
      await navigator.clipboard.writeText(address);
      this.say.done('The address is copied.');
    } catch {
      this.fault.set('The browser does not let us copy. Select the address and copy it by hand.');
    }
  }

  private async refresh(): Promise<void> {
    this.calendars.set(await this.api.call('calendars.list', {}).catch(() => this.calendars()));
  }
}
