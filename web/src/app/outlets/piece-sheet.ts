import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { PieceChanges, PieceView } from '@keyroster/contract';
import { CARD_STYLES, SHAPE_NAMES, lengthOf, sayShortDate, wallTimeOf, type CardStyle, type Shape } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { RolloutService } from './rollout.service';
import { capital, sayDue, sayState } from './say-piece';
import { TimingField } from './timing-field';

interface Draft { subject: string; parts: string[]; words: string; alt: string; tags: string }
const draftOf = (p: PieceView): Draft => ({ subject: p.subject, parts: [...p.parts], words: p.words, alt: p.alt, tags: p.tags.join(', ') });

/** One piece: as its outlet would show it, its words to edit, what of the post it is built from, and its earlier versions. */
@Component({
  selector: 'kr-piece-sheet',
  imports: [RouterLink, TimingField],
  template: `
    @let p = piece();
    <article [attr.aria-label]="capital(p.kind) + ' for ' + p.outlet">
      <header class="row spread"><div><h2>{{ capital(p.kind) }} <small>for {{ p.outlet }} · {{ state() }}{{ p.dueLocal ? ' · ' + due(p.dueLocal) : '' }}</small></h2></div>
        <span class="row"><button class="btn small" (click)="closed.emit()">All pieces</button></span></header>
      @if (p.send?.fault) { <p class="remark">{{ p.send!.fault }} @if (p.send!.state === 'unsure' || p.send!.state === 'failed') { <a routerLink="/outlets/log" [queryParams]="{ look: p.send!.id }">See to it in the send log</a> }</p> }
      @if (p.moved.what !== 'nothing' && !gone()) {
        <section class="moved" [class.mild]="p.moved.what === 'others'" aria-label="The post moved on"><p><b>Built from version {{ p.sourceVersion }}.</b> {{ p.moved.sentence }}</p>
          @if (p.moved.title; as t) { <p><del>{{ t.was }}</del><ins>{{ t.is }}</ins></p> }
          @for (u of p.moved.used; track u.was) { <p><del>{{ u.was }}</del>@if (u.is) { <ins>{{ u.is }}</ins> } @else { <em>is gone</em> }</p> }
          @if (mayEdit()) { <div class="row"><button class="btn small act" (click)="rebuild({})">Rebuild from the post as it is</button><button class="btn small" (click)="rollout.keep(p)">Keep as is</button></div> }</section>
      }
      <div class="two">
        <div class="form">
          @if (p.subject || p.kind.startsWith('newsletter') || p.kind === 'digest' || p.kind === 'video caption') { <label class="field"><span>Subject</span><input maxlength="300" [disabled]="!mayEdit()" [value]="draft().subject" (input)="set({ subject: $any($event.target).value })" /></label> }
          @if (p.drawn) { <label class="field"><span>Words on the card</span><textarea rows="2" maxlength="400" [disabled]="!mayEdit()" [value]="draft().words" (input)="set({ words: $any($event.target).value })"></textarea></label>
            <div class="row pick"><label class="field"><span>Style</span><select [disabled]="!mayEdit()" (change)="store({ style: $any($event.target).value })">@for (s of styles; track s) { <option [selected]="s === p.style">{{ s }}</option> }</select></label><label class="field"><span>Shape</span><select [disabled]="!mayEdit()" (change)="store({ shape: $any($event.target).value })">@for (s of shapes(); track s) { <option [selected]="s === p.shape">{{ s }}</option> }</select></label></div>
            <label class="field"><span>Alternative text</span><textarea rows="2" maxlength="1000" [disabled]="!mayEdit()" [value]="draft().alt" (input)="set({ alt: $any($event.target).value })"></textarea></label> }
          @for (part of draft().parts; track $index; let i = $index) {
            <label class="field"><span>{{ draft().parts.length > 1 ? (p.kind === 'gallery' ? 'Caption ' : 'Part ') + (i + 1) : 'Text' }}</span><textarea [rows]="rows(part)" maxlength="100000" [disabled]="!mayEdit()" [value]="part" (input)="setPart(i, $any($event.target).value)"></textarea>
              <small [class.bad]="over(part)">{{ count(part) }}</small></label> }
          @if (limits()?.tags !== 0) { <label class="field"><span>Tags</span><input maxlength="800" [disabled]="!mayEdit()" [value]="draft().tags" (input)="set({ tags: $any($event.target).value })" /></label> }
          <div class="field"><span>When</span><kr-timing [timing]="p.timing" [due]="p.dueLocal" [disabled]="!mayEdit()" (changed)="rollout.move(p, $event)" /><small [class.brass]="passed()">{{ due(p.dueLocal) }}{{ passed() ? '. That has passed: approved, it goes out at once.' : '' }}</small></div>
          @if (mayEdit()) { <div class="row ends"><button class="btn act" [disabled]="!dirty() || rollout.busy()" (click)="storeWords()">Store</button>@if (dirty()) { <button class="btn" (click)="draft.set(first())">Undo typing</button> }</div> }
        </div>
        <div class="side">
          <div class="preview" [attr.aria-label]="'As ' + p.outlet + ' shows it'" role="group"><p class="who"><b>{{ blog() }}</b> at {{ p.outlet }}</p>
            @for (picture of p.pictures; track picture.src) { <img [src]="picture.src" [alt]="picture.alt" /> }
            @if (draft().subject) { <h3>{{ draft().subject }}</h3> } @for (part of draft().parts; track $index) { <p class="said">{{ part }}</p> }</div>
          @for (f of p.faults; track f.sentence) { <p [class.bad]="f.blocks" [class.brass]="!f.blocks">{{ f.sentence }}</p> }
          @for (r of p.remarks; track r) { <p class="brass">{{ r }}</p> }
          @if (p.edited) { <p class="soft">Its words were edited by hand.</p> }
          @if (voice()) { <p class="soft">{{ p.outlet }}: {{ voice() }}</p> }
          @if (mayEdit()) {
            <label class="field"><span>Instruction</span><textarea rows="2" maxlength="1000" [value]="instruction()" (input)="instruction.set($any($event.target).value)"></textarea>@if (p.understood) { <small>Understood: {{ p.understood }}.</small> }</label>
            <div class="row"><button class="btn small" [disabled]="rollout.busy()" (click)="rebuild({ instruction: instruction().trim(), only: null })">Build by it</button><button class="btn small" [disabled]="rollout.busy()" (click)="rebuild({ another: true })">Another version</button></div>
          }
          @if (p.versions.length > 0) { <h3 class="small">Earlier versions</h3><ul>@for (v of p.versions; track v.version) { <li><span><b>{{ v.opening }}</b><small>{{ day(v.at) }}{{ v.by ? ', ' + v.by : '' }}</small></span>@if (mayEdit()) { <button class="btn small" [attr.aria-label]="'Bring back: ' + v.opening" (click)="rollout.restore(p, v.version)">Bring back</button> }</li> }</ul> }
        </div>
      </div>
      @if (asked(); as ask) {
        <div class="remark" role="alertdialog" aria-label="Write over edited words"><p>Its words were edited by hand. Building it again writes over them; the present version is kept among the earlier ones.</p><div class="row"><button class="btn small act" (click)="rebuild({ ...ask, overwrite: true })">Write over them</button><button class="btn small" (click)="rollout.waiting.set(null)">Keep my words</button></div></div>
      }
      <footer class="row">
        @if (view().maySend && !gone()) { @if (p.send && p.send.state !== 'stopped' && p.send.state !== 'failed') { <button class="btn" (click)="rollout.approve(p, false)">Hold it</button> } @else { <button class="btn act" [disabled]="blocked() || dirty()" (click)="rollout.approve(p, true)">Approve</button> } }
        @if (p.send?.url) { <a class="btn" [href]="p.send!.url" target="_blank" rel="noopener">See it at {{ p.outlet }}</a> }
        @if (mayEdit()) { <button class="btn refuse" (click)="rollout.remove(p); closed.emit()">Remove</button> }
      </footer>
    </article>
  `,
  styles: `
    article { background: var(--sheet); border: 1px solid var(--line); border-radius: 4px; padding: 12px 16px; } header { margin-bottom: 10px; } h2 small { font: 450 12px var(--sans); color: var(--soft); } .two { display: grid; grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr); gap: 20px; } .pick { gap: 12px; } .pick .field { flex: 1; } .bad { color: var(--madder) !important; font-weight: 600; } .brass { color: var(--brass); } .side > p { margin-bottom: 6px; }
    .preview { border: 1px solid var(--line); border-radius: 8px; padding: 12px 14px; margin-bottom: 10px; background: var(--field); } .preview .who { color: var(--soft); font-size: 12px; margin-bottom: 6px; } .preview b { color: var(--ink); } .preview h3 { margin-bottom: 5px; } .said { white-space: pre-line; overflow-wrap: anywhere; } .said + .said { border-top: 1px solid var(--hair); margin-top: 8px; padding-top: 8px; } img { display: block; max-width: 100%; max-height: 300px; border-radius: 3px; margin-bottom: 8px; }
    .moved { background: var(--brass-wash); border-radius: 4px; padding: 9px 12px; margin-bottom: 12px; }   .moved.mild { background: var(--hair); } .moved p { margin-bottom: 5px; } del { display: block; color: var(--soft); } ins { display: block; text-decoration: none; border-left: 3px solid var(--verdigris); padding-left: 8px; } em { color: var(--madder); }
    .small { font: 650 12px var(--sans); margin: 12px 0 4px; } ul { list-style: none; margin: 0; padding: 0; max-height: 220px; overflow: auto; } li { display: flex; justify-content: space-between; gap: 8px; align-items: center; border-top: 1px solid var(--hair); padding: 5px 0; } li b { display: block; font: 450 13px var(--serif); } li small { color: var(--soft); } footer { border-top: 1px solid var(--hair); padding-top: 10px; margin-top: 12px; } .ends { margin-top: 4px; } @media (max-width: 900px) { .two { grid-template-columns: minmax(0, 1fr); } }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PieceSheet {
  protected readonly rollout = inject(RolloutService);
  private readonly session = inject(SessionService);
  readonly piece = input.required<PieceView>();
  readonly blog = input.required<string>();
  readonly closed = output();
  protected readonly view = computed(() => this.rollout.view()!);
  protected readonly styles: readonly CardStyle[] = CARD_STYLES;
  protected readonly capital = capital;
  protected readonly due = sayDue;
  protected readonly state = computed(() => sayState(this.piece()));
  protected readonly gone = computed(() => ['sent', 'sending', 'unsure'].includes(this.piece().send?.state ?? ''));
  protected readonly mayEdit = computed(() => this.view().mayMake && !this.gone() && (this.piece().send === null || this.view().maySend));
  protected readonly limits = computed(() => this.rollout.outlet(this.piece().outletId)?.limits ?? null);
  protected readonly voice = computed(() => this.rollout.outlet(this.piece().outletId)?.voice ?? '');
  protected readonly shapes = computed<readonly Shape[]>(() => this.limits()?.shapes ?? SHAPE_NAMES);
  protected readonly passed = computed(() => { const { dueLocal, send } = this.piece(); const zone = this.session.blog()?.zone; return dueLocal !== null && zone !== undefined && (send === null || send.state === 'waiting' || send.state === 'stopped') && dueLocal < wallTimeOf(new Date().toISOString(), zone).slice(0, 19); });
  protected readonly blocked = computed(() => this.piece().faults.some((f) => f.blocks));
  protected readonly draft = signal<Draft>({ subject: '', parts: [], words: '', alt: '', tags: '' });
  protected readonly first = signal<Draft>(this.draft());
  protected readonly instruction = signal('');
  protected readonly dirty = computed(() => JSON.stringify(this.draft()) !== JSON.stringify(this.first()));
  protected readonly asked = computed(() => { const waiting = this.rollout.waiting(); return waiting?.pieceId === this.piece().id ? waiting.ask : null; });
  private shown = 0;

  constructor() {
    effect(() => {
      const p = this.piece();
      untracked(() => {
        const now = draftOf(p);
        // What is being typed stays when the piece comes anew and its words are the same.
        const typing = this.shown === p.id && this.dirty();
        if (!typing || JSON.stringify(now) === JSON.stringify(this.draft())) this.draft.set(now);
        this.first.set(now);
        if (this.shown !== p.id) this.instruction.set(p.instruction);
        this.shown = p.id;
      });
    });
  }

  protected readonly day = (at: string) => sayShortDate(at.slice(0, 10), new Date().toISOString());
  protected readonly rows = (part: string) => Math.min(18, Math.max(3, part.split('\n').reduce((n, line) => n + Math.max(1, Math.ceil(line.length / 58)), 0)));
  private lengthOf(part: string): number { return lengthOf(part, this.limits()?.length ?? { unit: 'graphemes', linkCost: null }); }
  protected readonly over = (part: string) => { const most = this.limits()?.length?.most; return most !== undefined && this.lengthOf(part) > most; };
  protected readonly count = (part: string) => { const length = this.limits()?.length; return length ? `${this.lengthOf(part)} of ${length.most} ${length.unit}` : `${this.lengthOf(part)} characters`; };

  protected set(part: Partial<Draft>): void { this.draft.update((d) => ({ ...d, ...part })); }
  protected setPart(at: number, text: string): void { this.draft.update((d) => ({ ...d, parts: d.parts.map((p, i) => (i === at ? text : p)) })); }

  protected storeWords(): void {
    const [now, was] = [this.draft(), this.first()];
    const changes: PieceChanges = {
      ...(now.subject === was.subject ? {} : { subject: now.subject.trim() }), ...(JSON.stringify(now.parts) === JSON.stringify(was.parts) ? {} : { parts: now.parts }), ...(now.words === was.words ? {} : { words: now.words.trim() }), ...(now.alt === was.alt ? {} : { alt: now.alt.trim() }),
      ...(now.tags === was.tags ? {} : { tags: now.tags.split(',').map((t) => t.trim()).filter(Boolean) }),
    };
    void this.store(changes);
  }

  protected async store(changes: PieceChanges): Promise<void> {
    if (await this.rollout.change(this.piece(), changes)) this.draft.set(draftOf(this.piece()));
  }

  protected async rebuild(ask: Parameters<RolloutService['rebuild']>[1]): Promise<void> {
    const answer = await this.rollout.rebuild(this.piece(), ask);
    if (answer === 'built') { this.draft.set(draftOf(this.piece())); this.first.set(draftOf(this.piece())); }
  }
}
