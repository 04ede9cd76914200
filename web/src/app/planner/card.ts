import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { PlannerCard } from '@keyroster/contract';
import { choresOf, lacks, sayChores, sayClock, type PlanWarning } from '@keyroster/core';
import { BittingMark } from '../ui/bitting-mark';
import { CategoryTab } from '../ui/category-tab';
import { PlannerTaste } from './planner-taste.service';

/** What a card on the weeks shows of a post. */
@Component({
  selector: 'kr-card',
  imports: [BittingMark, CategoryTab],
  template: `
    <kr-category class="tab" [id]="post().categoryId" [bare]="true" />
    <span class="t">{{ post().title }}</span>
    @if (facts().has('excerpt') && post().excerpt) { <span class="x">{{ post().excerpt }}</span> }
    @if (facts().has('category')) { <kr-category class="c" [id]="post().categoryId" /> }
    @if (facts().has('checklist') && chores()) { <span class="c" [title]="lacking()">{{ chores() }}</span> }
    @if (waiting()) { <b class="u">not stored yet</b> }
    <span class="m"><span>{{ line() }}</span>@if (post().checks.blocks > 0 && held()) { <b class="w x" [title]="held()" [attr.aria-label]="held()" role="img">✕</b> }@if (warnings().length > 0) { <b class="w" [title]="words()" [attr.aria-label]="words()" role="img">!</b> }@if (facts().has('stage')) { <kr-mark [stage]="post().stage" [late]="post().late" /> }</span>
  `,
  styles: `
    :host { display: flex; flex-direction: column; justify-content: space-between; gap: 6px; position: relative; background: var(--sheet); border: 1px solid var(--line); border-radius: 3px; padding: 5px 8px 6px; min-height: 104px; box-shadow: 0 1px 0 color-mix(in srgb, var(--ink) 5%, transparent); }
    :host(.late) { border-color: var(--madder); background: var(--madder-wash); }
    :host(.narrow) { min-height: 0; padding: 3px 5px; } :host(.narrow) .t { font-size: 11.5px; padding-right: 0; } :host(.narrow) .m, :host(.narrow) .x, :host(.narrow) .c { display: none; }
    kr-mark { flex: none; } .u { font-size: 11px; color: var(--brass); } .tab { position: absolute; top: -1px; right: 9px; } .c { font-size: 11px; }
    .t { font: 540 14px/1.17 var(--serif); padding-right: 14px; overflow-wrap: break-word; display: -webkit-box; -webkit-line-clamp: 4; line-clamp: 4; -webkit-box-orient: vertical; overflow: hidden; }
    .x { font: italic 400 12px/1.25 var(--serif); color: var(--soft); display: -webkit-box; -webkit-line-clamp: 3; line-clamp: 3; -webkit-box-orient: vertical; overflow: hidden; }
    .m { display: flex; justify-content: space-between; align-items: center; gap: 6px; font-size: 11px; color: var(--soft); }
    .w.x { color: var(--madder); } .w + .w { margin-left: 0; } .w { margin-left: auto; color: var(--brass); border: 1.5px solid currentColor; border-radius: 50%; width: 15px; height: 15px; display: grid; place-items: center; font: 700 10px var(--sans); }
  `,
  host: { '[class.late]': 'post().late' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Card {
  readonly post = input.required<PlannerCard>();
  readonly warnings = input<readonly PlanWarning[]>([]);
  /** Its move waits for a connection. */
  readonly waiting = input(false);
  protected readonly facts = inject(PlannerTaste).facts;
  protected readonly line = computed(() => [
    ...(this.facts().has('byline') ? [this.post().byline?.initials ?? 'nobody yet'] : []), ...(this.facts().has('time') ? [sayClock(this.post().runLocal ?? 'T00:00:00')] : []),
  ].join(' · '));
  private readonly facing = computed(() => ({ ...this.post(), bylineId: this.post().byline?.id ?? null }));
  protected readonly chores = computed(() => sayChores(choresOf(this.facing())));
  protected readonly lacking = computed(() => `Still lacks: ${lacks(this.facing()).join(', ') || 'nothing'}`);
  protected readonly held = computed(() => { const n = this.post().checks.blocks; return this.post().stage === 'pitch' || this.post().stage === 'commissioned' ? '' : `${n} ${n === 1 ? 'check holds' : 'checks hold'} it back`; });
  protected readonly words = computed(() => this.warnings().map((w) => w.sentence).join(' '));
}
