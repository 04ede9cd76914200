import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import type { FormatView, PatternStop, PatternView } from '@keyroster/contract';
import { CARD_STYLES, DRAWN_KINDS, PIECE_KINDS, SHAPE_NAMES, sayTiming, type PieceKind } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Say } from '../ui/say.service';
import { OutletsHead } from './outlets-head';
import { OutletsService } from './outlets.service';
import { capital } from './say-piece';
import { TimingField } from './timing-field';

/** Rollout patterns: pieces, outlets and times that are used again, offered first where their format or category fits. */
@Component({
  imports: [OutletsHead, TimingField],
  providers: [OutletsService],
  template: `
    <div class="screen">
      <kr-outlets-head name="Patterns" />
      <p class="soft lead">A pattern makes several pieces at once, each at its time after the release. A rollout that did well is kept as one on its post’s Spin-offs screen, or put together here.</p>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      <div class="columns">
        <section aria-label="The patterns"><ul class="list">@for (p of patterns(); track p.id) {
          <li [class.on]="draft()?.id === p.id"><button [attr.aria-pressed]="draft()?.id === p.id" (click)="edit(p)"><b>{{ p.name }}</b><span>{{ forWhat(p) }}</span>@for (s of p.stops; track $index) { <span>{{ capital(s.kind) }} for {{ outletName(s.outletId) }}, {{ say(s.timing) }}</span> }</button></li>
        } @empty { <li class="soft">No pattern yet.</li> }</ul>@if (may()) { <button class="btn" (click)="begin()">New pattern</button> }</section>
        @if (draft(); as d) {
          <form class="sheet" aria-label="Pattern" (submit)="$event.preventDefault(); store()" novalidate>
            <fieldset [disabled]="!may()">
              <label class="field"><span>Name</span><input maxlength="80" [value]="d.name" (input)="set({ name: $any($event.target).value })" /></label>
              <div class="two"><label class="field"><span>Offered first for the format</span><select (change)="set({ formatId: +$any($event.target).value || null })"><option value="">any</option>@for (f of formats(); track f.id) { <option [value]="f.id" [selected]="f.id === d.formatId">{{ f.name }}</option> }</select></label><label class="field"><span>or the category</span><select (change)="set({ categoryId: +$any($event.target).value || null })"><option value="">any</option>@for (c of session.blog()?.categories ?? []; track c.id) { <option [value]="c.id" [selected]="c.id === d.categoryId">{{ c.name }}</option> }</select></label></div>
              @for (s of d.stops; track $index; let i = $index) {
                <div class="stop" role="group" [attr.aria-label]="'Piece ' + (i + 1)"><select aria-label="Kind" (change)="stop(i, { kind: $any($event.target).value })">@for (k of kinds; track k) { <option [selected]="k === s.kind">{{ k }}</option> }</select><select aria-label="Outlet" (change)="stop(i, { outletId: +$any($event.target).value })">@for (o of open(); track o.id) { <option [value]="o.id" [selected]="o.id === s.outletId">{{ o.name }}</option> }</select>
                  <kr-timing [timing]="s.timing" (changed)="stop(i, { timing: $event })" /><input aria-label="Instruction" maxlength="1000" placeholder="instruction" [value]="s.instruction" (change)="stop(i, { instruction: $any($event.target).value.trim() })" />
                  @if (drawn(s.kind)) { <span class="pair"><select aria-label="Style" (change)="stop(i, { style: $any($event.target).value })">@for (x of styles; track x) { <option [selected]="x === s.style">{{ x }}</option> }</select><select aria-label="Shape" (change)="stop(i, { shape: $any($event.target).value })">@for (x of shapes; track x) { <option [selected]="x === s.shape">{{ x }}</option> }</select></span> }
                  @if (may()) { <button type="button" class="btn small" [attr.aria-label]="'Take piece ' + (i + 1) + ' away'" (click)="drop(i)">✕</button> }</div>
              }
              @if (may()) { <button type="button" class="btn small" (click)="more()">Another piece</button> }
            </fieldset>
            @if (may()) { <div class="row ends">@if (d.id) { <button type="button" class="btn refuse" (click)="remove(d.id)">Remove the pattern</button> }<span class="grow"></span><button type="button" class="btn" (click)="draft.set(null)">Close</button><button class="btn act" type="submit" [disabled]="d.stops.length === 0">{{ d.id ? 'Store the change' : 'Keep the pattern' }}</button></div> }
          </form>
        }
      </div>
    </div>
  `,
  styles: `.lead { max-width: 72ch; margin-bottom: 14px; } .columns { display: grid; grid-template-columns: minmax(260px, 380px) minmax(0, 1fr); gap: 24px; align-items: start; } .list { list-style: none; margin: 0 0 12px; padding: 0; border-top: 2px solid var(--ink); } .list li { border-bottom: 1px solid var(--line); padding: 0; } .list .on { background: var(--verdigris-wash); } .list button { width: 100%; border: 0; background: none; text-align: left; padding: 8px 6px; cursor: pointer; } .list b { display: block; font: 560 15px var(--serif); } .list span { display: block; color: var(--soft); font-size: 12px; }
    .sheet { background: var(--sheet); border: 1px solid var(--line); border-radius: 4px; padding: 14px 18px; } fieldset { border: 0; padding: 0; margin: 0; min-width: 0; } .two { display: grid; grid-template-columns: 1fr 1fr; gap: 12px; } .stop { display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) minmax(0, 1.6fr) auto; gap: 6px; border-top: 1px solid var(--hair); padding: 8px 0; } .stop input { grid-column: 1 / 3; } .pair { display: grid; grid-template-columns: 1fr 1fr; gap: 6px; } .stop .btn { grid-column: 4; grid-row: 1; justify-self: end; } .ends { margin-top: 12px; } .grow { flex: 1; } @media (max-width: 900px) { .columns { grid-template-columns: minmax(0, 1fr); } .stop { grid-template-columns: 1fr 1fr; } .stop .btn { grid-column: auto; grid-row: auto; } }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PatternsPage {
  protected readonly outlets = inject(OutletsService);
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly saying = inject(Say);
  protected readonly patterns = signal<PatternView[]>([]);
  protected readonly formats = signal<FormatView[]>([]);
  /** The pattern being put together; number 0 for a new one. */
  protected readonly draft = signal<PatternView | null>(null);
  protected readonly fault = signal('');
  protected readonly kinds = PIECE_KINDS.filter((k) => k !== 'digest');
  protected readonly styles = CARD_STYLES;
  protected readonly shapes = SHAPE_NAMES;
  protected readonly capital = capital;
  protected readonly say = sayTiming;
  protected readonly drawn = (kind: PieceKind) => DRAWN_KINDS.includes(kind);
  protected readonly may = computed(() => this.session.may('sendPieces'));
  protected readonly open = computed(() => (this.outlets.outlets() ?? []).filter((o) => !o.closed));
  protected readonly outletName = (id: number) => this.outlets.outlets()?.find((o) => o.id === id)?.name ?? '';

  constructor() {
    void this.api.call('patterns.list', {}).then((p) => this.patterns.set(p), (error: unknown) => this.fault.set(sentenceOf(error)));
    void this.api.call('formats.list', {}).then((f) => this.formats.set(f), () => undefined);
  }

  protected forWhat(p: PatternView): string {
    return [this.formats().find((f) => f.id === p.formatId)?.name, this.session.category(p.categoryId)?.name].filter(Boolean).map((n) => `offered first for ${n}`).join(', ') || 'for any post';
  }

  protected edit(p: PatternView): void { this.fault.set(''); this.draft.set(structuredClone(p)); }
  protected begin(): void { this.fault.set(''); this.draft.set({ id: 0, name: '', stops: this.open().length > 0 ? [this.blank()] : [], formatId: null, categoryId: null }); }
  private blank(): PatternStop { return { kind: 'short post', outletId: this.open()[0]!.id, instruction: '', style: 'gate', shape: 'square', timing: { kind: 'same day', time: '12:30' } }; }
  protected set(part: Partial<PatternView>): void { this.draft.update((d) => d && { ...d, ...part }); }
  protected stop(at: number, part: Partial<PatternStop>): void { this.draft.update((d) => d && { ...d, stops: d.stops.map((s, i) => (i === at ? { ...s, ...part } : s)) }); }
  protected drop(at: number): void { this.draft.update((d) => d && { ...d, stops: d.stops.filter((_, i) => i !== at) }); }
  protected more(): void { if (this.open().length > 0) this.draft.update((d) => d && { ...d, stops: [...d.stops, this.blank()] }); }

  protected async store(): Promise<void> {
    const { id, ...body } = this.draft()!;
    if (body.name.trim() === '') return this.fault.set('Give the pattern a name.');
    await this.act(() => (id ? this.api.call('patterns.change', { id, body: { ...body, name: body.name.trim() } }) : this.api.call('patterns.add', { body: { ...body, name: body.name.trim() } })), `The pattern “${body.name.trim()}” is kept.`);
  }

  protected remove(id: number): Promise<void> {
    return this.act(() => this.api.call('patterns.remove', { id }), 'The pattern is removed. Pieces that were made by it stay.');
  }

  private async act(ask: () => Promise<PatternView[]>, said: string): Promise<void> {
    try {
      this.patterns.set(await ask());
      this.draft.set(null);
      this.fault.set('');
      this.saying.done(said);
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }
}
