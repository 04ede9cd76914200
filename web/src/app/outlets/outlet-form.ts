import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import type { NewOutlet, OutletView } from '@keyroster/contract';
import { LENGTH_UNITS, OUTLET_KINDS, SHAPE_NAMES, USUAL_LIMITS, type OutletKind, type OutletLimits, type OutletProtocol, type Shape } from '@keyroster/core';
import { OutletsService } from './outlets.service';

const PROTOCOLS: { protocol: OutletProtocol; name: string; address: string; hint: string }[] = [
  { protocol: 'micropub', name: 'Micropub: we post to it', address: 'Micropub endpoint', hint: 'https://…, as the outlet’s help or its page’s head names it' }, { protocol: 'mail', name: 'Mail: it takes letters', address: 'The list’s e-mail address', hint: 'letters go to the list, which hands them on' },
  { protocol: 'feed', name: 'Feed: it fetches from us', address: 'Hub to tell (WebSub)', hint: 'may be left empty; then it fetches when it likes' }, { protocol: 'webhook', name: 'Webhook: we send it a signed message', address: 'Address of the webhook', hint: 'signed after Standard Webhooks' },
];
const USUAL_PROTOCOL: Record<OutletKind, OutletProtocol> = { 'short-post network': 'micropub', 'picture network': 'micropub', 'professional network': 'micropub', newsletter: 'mail', 'partner site': 'feed', 'shop’s news page': 'webhook', special: 'feed' };
const fresh = (): NewOutlet => ({ name: '', kind: 'short-post network', protocol: 'micropub', address: '', settings: {}, limits: USUAL_LIMITS['short-post network'], voice: '', knowsKeys: false });

/** An outlet: what it is, how pieces reach it, what it takes, how it speaks. */
@Component({
  selector: 'kr-outlet-form',
  template: `
    @let d = draft();
    <form (submit)="$event.preventDefault(); store()" novalidate [attr.aria-label]="outlet()?.name ?? 'New outlet'">
      <div class="row spread"><h2>{{ outlet()?.name ?? 'New outlet' }}</h2><button type="button" class="btn small" (click)="closed.emit()">Close</button></div>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      <fieldset [disabled]="!manages()">
        <div class="grid">
          <label class="field"><span>Name</span><input maxlength="80" [value]="d.name" (input)="set({ name: $any($event.target).value })" /></label>
          <label class="field"><span>Kind</span><select (change)="kind($any($event.target).value)">@for (k of kinds; track k) { <option [selected]="k === d.kind">{{ k }}</option> }</select></label>
          <label class="field wide"><span>How pieces reach it</span><select (change)="set({ protocol: $any($event.target).value })">@for (p of protocols; track p.protocol) { <option [value]="p.protocol" [selected]="p.protocol === d.protocol">{{ p.name }}</option> }</select></label>
          <label class="field wide"><span>{{ how().address }}</span><input maxlength="2000" [value]="d.address" (input)="set({ address: $any($event.target).value.trim() })" /><small>{{ how().hint }}</small></label>
          @if (d.protocol === 'mail') {
            <label class="field"><span>Mail server</span><input maxlength="253" [value]="d.settings.host ?? ''" (input)="setting({ host: $any($event.target).value.trim() })" /></label><label class="field"><span>Port</span><input type="number" min="1" max="65535" [value]="d.settings.port ?? 587" (input)="setting({ port: +$any($event.target).value || 587 })" /></label>
            <label class="field wide"><span>Letters come from</span><input maxlength="320" placeholder="The blog &lt;letter@blog.example&gt;" [value]="d.settings.from ?? ''" (input)="setting({ from: $any($event.target).value })" /></label>
            <label class="field"><span>Signs in as</span><input maxlength="320" autocomplete="off" [value]="user()" (input)="user.set($any($event.target).value)" [placeholder]="kept()" /></label><label class="field"><span>Password</span><input type="password" maxlength="1000" autocomplete="new-password" [value]="secret()" (input)="secret.set($any($event.target).value)" [placeholder]="kept()" /></label>
          } @else if (d.protocol !== 'feed') { <label class="field wide"><span>{{ d.protocol === 'webhook' ? 'Signing secret' : 'Access token' }}</span><input type="password" maxlength="4000" autocomplete="new-password" [value]="secret()" (input)="secret.set($any($event.target).value)" [placeholder]="kept()" /><small>Kept sealed, and never shown again.</small></label> }
          @if (outlet()?.feeds; as f) { <p class="wide soft">Its feed: <a [href]="f.json">{{ f.json }}</a> and <a [href]="f.atom">as Atom</a>.</p> }
        </div>
        @if (d.protocol === 'micropub' || d.protocol === 'webhook') { <label class="tick"><input type="checkbox" [checked]="d.knowsKeys" (change)="set({ knowsKeys: !d.knowsKeys })" /> It knows a piece again by its key <small>Then a piece whose answer was lost is sent again without harm; else a person is asked.</small></label> }
        <h3>What it takes</h3>
        <div class="grid four">
          <label class="field"><span>Length at most</span><input type="number" min="10" max="100000" [value]="d.limits.length?.most ?? ''" placeholder="any" (input)="length($any($event.target).value)" /></label>
          <label class="field"><span>Counted in</span><select [disabled]="!d.limits.length || !manages()" (change)="limit({ length: { ...d.limits.length!, unit: $any($event.target).value } })">@for (u of units; track u) { <option [selected]="u === d.limits.length?.unit">{{ u }}</option> }</select></label>
          <label class="field"><span>A link counts</span><input type="number" min="0" max="500" [disabled]="!d.limits.length || !manages()" [value]="d.limits.length?.linkCost ?? ''" placeholder="as written" (input)="limit({ length: { ...d.limits.length!, linkCost: number($any($event.target).value) } })" /></label>
          <label class="field"><span>Tags at most</span><input type="number" min="0" max="40" [value]="d.limits.tags" (input)="limit({ tags: +$any($event.target).value || 0 })" /></label>
          <label class="field"><span>Picture at most, kB</span><input type="number" min="20" max="20000" [value]="d.limits.pictureBytes === null ? '' : d.limits.pictureBytes / 1000" placeholder="any" (input)="limit({ pictureBytes: kilobytes($any($event.target).value) })" /></label>
          <label class="field"><span>In an hour</span><input type="number" min="1" max="1000" [value]="d.limits.perHour ?? ''" placeholder="any" (input)="limit({ perHour: number($any($event.target).value) })" /></label>
          <label class="field"><span>In a day</span><input type="number" min="1" max="5000" [value]="d.limits.perDay ?? ''" placeholder="any" (input)="limit({ perDay: number($any($event.target).value) })" /></label>
          <span></span>
          <label class="field"><span>Quiet from</span><input type="time" [value]="d.limits.quiet?.from ?? ''" (change)="quiet('from', $any($event.target).value)" /></label><label class="field"><span>until</span><input type="time" [value]="d.limits.quiet?.until ?? ''" (change)="quiet('until', $any($event.target).value)" /></label>
        </div>
        <div class="row ticks" role="group" aria-label="Picture shapes"><label class="tick"><input type="checkbox" [checked]="d.limits.links" (change)="limit({ links: !d.limits.links })" /> Addresses become links</label>@for (s of shapes; track s) { <label class="tick"><input type="checkbox" [checked]="d.limits.shapes.includes(s)" (change)="shape(s)" /> {{ s }}</label> }</div>
        <label class="field"><span>Voice</span><textarea rows="2" maxlength="4000" placeholder="Notes that stand beside every piece for this outlet" [value]="d.voice" (input)="set({ voice: $any($event.target).value })"></textarea></label>
      </fieldset>
      <p class="soft" role="status">{{ tried() }}</p>
      @if (manages()) { <div class="row ends">@if (outlet(); as o) { <button type="button" class="btn" (click)="try(o.id)">Ask whether it would take a piece</button><button type="button" class="btn" (click)="outlets.change(o, { closed: !o.closed }, o.closed ? 'It is open again.' : 'It is closed: nothing is made for it or sent to it.')">{{ o.closed ? 'Open it again' : 'Close the outlet' }}</button> }<span class="grow"></span><button class="btn act" type="submit" [disabled]="!changed()">{{ outlet() ? 'Store the change' : 'Add the outlet' }}</button></div> }
    </form>
  `,
  styles: `form { background: var(--sheet); border: 1px solid var(--line); border-radius: 4px; padding: 14px 18px; } fieldset { border: 0; margin: 10px 0 0; padding: 0; min-width: 0; } .grid { display: grid; grid-template-columns: 1fr 1fr; gap: 0 12px; } .four { grid-template-columns: repeat(4, minmax(0, 1fr)); } .wide { grid-column: 1 / -1; } h3 { font: 650 12px var(--sans); margin: 12px 0 6px; } .tick { display: flex; gap: 6px; align-items: baseline; flex-wrap: wrap; cursor: pointer; } .tick small { color: var(--soft); } .ticks { gap: 6px 16px; margin-bottom: 10px; } .grow { flex: 1; } @media (max-width: 620px) { .grid, .four { grid-template-columns: 1fr 1fr; } }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OutletForm {
  protected readonly outlets = inject(OutletsService);
  readonly outlet = input<OutletView | null>(null);
  readonly manages = input(false);
  readonly closed = output();
  readonly stored = output<OutletView>();
  protected readonly kinds = OUTLET_KINDS;
  protected readonly protocols = PROTOCOLS;
  protected readonly units = LENGTH_UNITS;
  protected readonly shapes = SHAPE_NAMES;
  protected readonly draft = signal<NewOutlet>(fresh());
  private readonly first = signal('');
  protected readonly user = signal('');
  protected readonly secret = signal('');
  protected readonly fault = signal('');
  protected readonly tried = signal('');
  protected readonly how = computed(() => PROTOCOLS.find((p) => p.protocol === this.draft().protocol)!);
  protected readonly changed = computed(() => JSON.stringify(this.draft()) !== this.first() || this.secret() !== '' || this.user() !== '');
  protected readonly kept = computed(() => (this.outlet()?.hasCredentials ? 'kept; type to replace' : ''));

  constructor() {
    effect(() => {
      const o = this.outlet();
      untracked(() => {
        const draft: NewOutlet = o ? { name: o.name, kind: o.kind, protocol: o.protocol, address: o.address, settings: o.settings, limits: o.limits, voice: o.voice, knowsKeys: o.knowsKeys } : fresh();
        // What is being typed is not lost when the list comes anew.
        if (this.first() !== '' && this.changed() && JSON.stringify(draft) === this.first()) return;
        this.draft.set(draft);
        this.first.set(JSON.stringify(draft));
        this.user.set('');
        this.secret.set('');
        this.fault.set('');
      });
    });
  }

  protected set(part: Partial<NewOutlet>): void { this.draft.update((d) => ({ ...d, ...part })); }
  protected setting(part: NewOutlet['settings']): void { this.set({ settings: { ...this.draft().settings, ...part } }); }
  protected limit(part: Partial<OutletLimits>): void { this.set({ limits: { ...this.draft().limits, ...part } }); }
  protected readonly number = (typed: string) => (typed.trim() === '' ? null : Math.max(0, Math.trunc(Number(typed)) || 0));
  protected readonly kilobytes = (typed: string) => { const n = this.number(typed); return n === null ? null : n * 1000; };
  protected length(typed: string): void { const n = this.number(typed); this.limit({ length: n === null ? null : { unit: 'graphemes', linkCost: null, ...this.draft().limits.length, most: n } }); }
  protected quiet(end: 'from' | 'until', time: string): void {
    const now = this.draft().limits.quiet;
    this.limit({ quiet: time === '' ? null : { from: '22:00', until: '07:00', ...now, [end]: time } });
  }
  protected shape(shape: Shape): void {
    const { shapes } = this.draft().limits;
    this.limit({ shapes: shapes.includes(shape) ? shapes.filter((s) => s !== shape) : SHAPE_NAMES.filter((s) => s === shape || shapes.includes(s)) });
  }

  /** Another kind brings its usual limits and protocol, as long as those were not touched. */
  protected kind(kind: OutletKind): void {
    const { limits, kind: before, protocol } = this.draft();
    const untouched = JSON.stringify(limits) === JSON.stringify(USUAL_LIMITS[before]);
    this.set({ kind, ...(untouched ? { limits: USUAL_LIMITS[kind] } : {}), ...(this.outlet() === null && protocol === USUAL_PROTOCOL[before] ? { protocol: USUAL_PROTOCOL[kind] } : {}) });
  }

  protected async try(id: number): Promise<void> {
    this.tried.set('Asking …');
    this.tried.set(await this.outlets.try(id));
  }

  protected async store(): Promise<void> {
    const d = this.draft();
    if (d.name.trim() === '') return this.fault.set('Give it a name.');
    if (d.limits.shapes.length === 0) return this.fault.set('Choose at least one picture shape.');
    const credentials = d.protocol === 'mail' ? { ...(this.user() ? { user: this.user().trim() } : {}), ...(this.secret() ? { password: this.secret() } : {}) } : this.secret() ? { token: this.secret().trim() } : {};
    const stored = await this.outlets.store(this.outlet()?.id ?? null, { ...d, name: d.name.trim(), ...(Object.keys(credentials).length > 0 ? { credentials } : {}) });
    this.fault.set(stored ? '' : this.outlets.fault());
    this.outlets.fault.set('');
    if (!stored) return;
    this.first.set(JSON.stringify(this.draft()));
    this.secret.set('');
    this.user.set('');
    this.tried.set('Stored.');
    this.stored.emit(stored);
  }
}
