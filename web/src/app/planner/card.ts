import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { PlannerCard } from '@keyroster/contract';
import {
  checklistOf,
  lacks,
  formatChecklist,
  formatCount,
  formatClock,
  type PlanWarning,
} from '@keyroster/core';
import { BittingMark } from '../ui/bitting-mark';
import { CategoryTab } from '../site/category-tab';
import { CARD_LINES, PlannerPreferences } from './planner-preferences.service';

/** What a card on the weeks shows of a post. */
@Component({
  selector: 'kr-card',
  imports: [BittingMark, CategoryTab],
  template: `
    <kr-category class="tab" [id]="post().categoryId" [bare]="true" />
    <span class="t">{{ post().title }}</span>
    @for (field of lines; track field) {
      @if (facts().has(field) && post()[field]) {
        <span class="x">{{ post()[field] }}</span>
      }
    }
    @if (facts().has('category')) {
      <kr-category class="c" [id]="post().categoryId" />
    }
    @if (facts().has('checklist') && chores()) {
      <span class="c" [title]="lacking()">{{ chores() }}</span>
    }
    @if (facts().has('reads') && post().reads !== null) {
      <span class="c">{{ reads() }}</span>
    }
    @if (waiting()) {
      <b class="u">not stored yet</b>
    }
    <span class="m"
      ><span>{{ line() }}</span>
      @if (post().checks.blocks > 0 && held()) {
        <b class="w x" [title]="held()" [attr.aria-label]="held()" role="img">✕</b>
      }
      @if (warnings().length > 0) {
        <b class="w" [title]="words()" [attr.aria-label]="words()" role="img">!</b>
      }
      @if (facts().has('stage')) {
        <kr-mark [stage]="post().stage" [late]="post().late" />
      }
    </span>
  `,
  styleUrl: './card.scss',
  host: { '[class.late]': 'post().late' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Card {
  readonly post = input.required<PlannerCard>();
  readonly warnings = input<readonly PlanWarning[]>([]);
  /** Its move waits for a connection. */
  readonly waiting = input(false);
  protected readonly facts = inject(PlannerPreferences).facts;
  protected readonly lines = CARD_LINES;
  protected readonly line = computed(() =>
    [
      ...(this.facts().has('byline') ? [this.post().byline?.initials ?? 'nobody yet'] : []),
      ...(this.facts().has('time') ? [formatClock(this.post().runLocal ?? 'T00:00:00')] : []),
    ].join(' · '),
  );
  protected readonly reads = computed(() => formatCount(this.post().reads ?? 0, 'read'));
  private readonly facing = computed(() => ({ ...this.post(), bylineId: this.post().byline?.id ?? null }));
  protected readonly chores = computed(() => formatChecklist(checklistOf(this.facing())));
  protected readonly lacking = computed(() => `Still lacks: ${lacks(this.facing()).join(', ') || 'nothing'}`);
  protected readonly held = computed(() => {
    const n = this.post().checks.blocks;
    return this.post().stage === 'pitch' || this.post().stage === 'commissioned'
      ? ''
      : `${n} ${n === 1 ? 'check holds' : 'checks hold'} it back`;
  });
  protected readonly words = computed(() =>
    this.warnings()
      .map((w) => w.sentence)
      .join(' '),
  );
}
