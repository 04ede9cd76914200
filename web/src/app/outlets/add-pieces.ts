import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { OutletView, PieceAskView, PostView } from '@keyroster/contract';
import { CARD_STYLES, DRAWN_KINDS, PIECE_KINDS, SHAPE_NAMES, readInstruction, instructionRemarks, sayInstruction, type CardStyle, type OutletKind, type PieceKind, type Shape, type Timing } from '@keyroster/core';
import { Api } from '../api/api';
import { RolloutService } from './rollout.service';
import { capital } from './say-piece';
import { TimingField } from './timing-field';

/** Where each kind usually goes. */
const USUAL: Record<PieceKind, readonly OutletKind[]> = {
  'short post': ['short-post network', 'shop’s news page'], thread: ['short-post network'], 'picture card': ['picture network'], gallery: ['picture network'], 'professional post': ['professional network'], 'newsletter item': ['newsletter', 'partner site'],
  'newsletter letter': ['newsletter'], digest: ['newsletter'], 'quote card': ['picture network'], checklist: ['shop’s news page', 'newsletter'], question: ['short-post network'], 'video caption': ['picture network'],
};

interface Row { kind: PieceKind; outletId: number; style: CardStyle; shape: Shape; instruction: string }

/** Chooses several pieces at once, each for its outlet, with one instruction for all of them. */
@Component({
  imports: [MatDialogModule, TimingField],
  template: `
    <form class="dialog" (submit)="$event.preventDefault(); make()" novalidate>
      <h2>Add pieces</h2>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      @if (open().length === 0) { <p>There is no outlet yet that pieces could go to. The managing editor adds one under Outlets.</p> }
      @else {
        <fieldset><legend>What is to be made?</legend>
          <ul>@for (k of kinds; track k) { @let row = chosen().get(k);
            <li><label class="kind"><input type="checkbox" [checked]="!!row" (change)="toggle(k)" /> {{ capital(k) }}</label>
              @if (row) {
                <select [attr.aria-label]="capital(k) + ' for'" (change)="set(k, { outletId: +$any($event.target).value })">@for (o of open(); track o.id) { <option [value]="o.id" [selected]="o.id === row.outletId">{{ o.name }}</option> }</select>
                @if (drawn(k)) { <select [attr.aria-label]="'Style of the ' + k" (change)="set(k, { style: $any($event.target).value })">@for (s of styles; track s) { <option [selected]="s === row.style">{{ s }}</option> }</select> }
                <input class="own" maxlength="1000" [attr.aria-label]="'Instruction for the ' + k" placeholder="an instruction of its own, or the one below" (input)="set(k, { instruction: $any($event.target).value })" />
                @if (drawn(k) || k === 'gallery') { <select [attr.aria-label]="'Shape of the ' + k" (change)="set(k, { shape: $any($event.target).value })">@for (s of shapes(row.outletId); track s) { <option [selected]="s === row.shape">{{ s }}</option> }</select> }
              }</li> }</ul></fieldset>
        @if (chosen().has('digest')) {
          <div class="field"><span id="digest-posts">Posts of the digest, beside this one</span>
            <ul class="others" aria-labelledby="digest-posts">@for (p of lately(); track p.id) { <li><label><input type="checkbox" [checked]="others().has(p.id)" (change)="other(p.id)" /> {{ p.title }}</label></li> }</ul></div>
        }
        <label class="field"><span>Instruction for all</span><textarea rows="2" maxlength="1000" placeholder="For first-year owners, stress the drain plug, at most 200 characters, warm, without link" (input)="instruction.set($any($event.target).value)"></textarea>
          <small>{{ understood() }}</small>@for (r of remarks(); track r) { <small class="brass">{{ r }}</small> }</label>
        <div class="field"><span>When</span><kr-timing [timing]="timing()" (changed)="timing.set($event)" /></div>
      }
      <div class="ends"><button type="button" class="btn" mat-dialog-close>Cancel</button><button class="btn act" type="submit" [disabled]="chosen().size === 0 || rollout.busy()">{{ chosen().size > 1 ? 'Make ' + chosen().size + ' pieces' : 'Make the piece' }}</button></div>
    </form>
  `,
  styles: `fieldset { border: 0; padding: 0; margin: 0 0 12px; } legend { font-weight: 600; font-size: 12px; padding: 0; margin-bottom: 3px; } ul { list-style: none; margin: 0; padding: 0; border-top: 2px solid var(--ink); } li { display: grid; grid-template-columns: 150px minmax(0, 1.4fr) minmax(0, 1fr) minmax(0, 1fr); gap: 6px; align-items: center; border-bottom: 1px solid var(--hair); min-height: 34px; } .kind { font-weight: 550; cursor: pointer; } .own { grid-column: 2 / -1; grid-row: 2; margin-bottom: 4px; } .others { max-height: 170px; overflow: auto; } .others li { display: block; padding: 5px 0; } .brass { color: var(--brass); } @media (max-width: 620px) { li { grid-template-columns: 1fr 1fr; padding: 5px 0; } }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AddPieces {
  protected readonly rollout = inject<RolloutService>(MAT_DIALOG_DATA);
  private readonly dialog = inject<MatDialogRef<AddPieces>>(MatDialogRef);
  private readonly api = inject(Api);
  protected readonly kinds = PIECE_KINDS;
  protected readonly styles = CARD_STYLES;
  protected readonly capital = capital;
  protected readonly fault = signal('');
  protected readonly instruction = signal('');
  protected readonly timing = signal<Timing>({ kind: 'same day', time: '12:30' });
  protected readonly chosen = signal<ReadonlyMap<PieceKind, Row>>(new Map());
  protected readonly others = signal<ReadonlySet<number>>(new Set());
  protected readonly lately = signal<Pick<PostView, 'id' | 'title'>[]>([]);
  protected readonly open = computed(() => this.rollout.outlets().filter((o) => !o.closed));
  protected readonly drawn = (kind: PieceKind) => DRAWN_KINDS.includes(kind);
  protected readonly shapes = (outletId: number) => this.rollout.outlet(outletId)?.limits.shapes ?? SHAPE_NAMES;
  protected readonly understood = computed(() => { const said = sayInstruction(readInstruction(this.instruction())); return said ? `Understood: ${said}.` : 'Length, tone, link, tags, what to stress and whom it is for are obeyed; the rest stands with the piece for whoever edits it.'; });
  protected readonly remarks = computed(() => {
    return [...new Set([...this.chosen().values()].flatMap((row) => { const o = this.rollout.outlet(row.outletId); return o ? instructionRemarks(readInstruction(row.instruction || this.instruction()), o.limits, o.name) : []; }))];
  });

  constructor() {
    void this.api.call('posts.list', { query: { stage: 'published', sort: '-run', limit: 20 } as never }).then((page) => this.lately.set(page.posts.filter((p) => p.id !== this.rollout.postId())), () => undefined);
  }

  protected toggle(kind: PieceKind): void {
    this.chosen.update((all) => {
      const next = new Map(all);
      if (next.delete(kind)) return next;
      const outlet = this.usual(kind);
      return next.set(kind, { kind, outletId: outlet.id, style: 'gate', instruction: '', shape: outlet.limits.shapes.includes('square') ? 'square' : outlet.limits.shapes[0]! });
    });
  }

  private usual(kind: PieceKind): OutletView {
    const open = this.open();
    return USUAL[kind].map((k) => open.find((o) => o.kind === k)).find((o) => o) ?? open[0]!;
  }

  protected set(kind: PieceKind, part: Partial<Row>): void {
    this.chosen.update((all) => {
      const row = { ...all.get(kind)!, ...part };
      const shapes = this.shapes(row.outletId);
      return new Map(all).set(kind, { ...row, shape: shapes.includes(row.shape) ? row.shape : shapes[0]! });
    });
  }

  protected other(id: number): void {
    this.others.update((all) => { const next = new Set(all); if (!next.delete(id)) next.add(id); return next; });
  }

  protected async make(): Promise<void> {
    const asks: PieceAskView[] = this.kinds.flatMap((kind) => { const row = this.chosen().get(kind); return row ? [{ ...row, instruction: (row.instruction || this.instruction()).trim(), timing: this.timing(), ...(kind === 'digest' ? { otherIds: [...this.others()] } : {}) }] : []; });
    const made = await this.rollout.make({ asks });
    if (!made) return this.fault.set(this.rollout.fault());
    if (made.refused.length === 0) return this.dialog.close();
    // What was made is made; what could not be stays chosen, with why.
    this.fault.set(`${made.made.length > 0 ? `${made.made.length} made. ` : ''}${made.refused.join(' ')}`);
    this.chosen.update((all) => new Map([...all].filter(([kind]) => made.refused.some((r) => r.toLowerCase().startsWith(kind)))));
  }
}
