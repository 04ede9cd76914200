import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { PostCard } from '@keyroster/contract';
import { sayClock } from '@keyroster/core';
import { BittingMark } from '../ui/bitting-mark';
import { CategoryTab } from '../ui/category-tab';

/** What a card on the weeks shows of a post. */
@Component({
  selector: 'kr-card',
  imports: [BittingMark, CategoryTab],
  template: `
    <kr-category class="tab" [id]="post().categoryId" [bare]="true" />
    <span class="t">{{ post().title }}</span>
    <span class="m"><span>{{ by() }} · {{ clock() }}</span><kr-mark [stage]="post().stage" [late]="post().late" /></span>
  `,
  styles: `
    :host { display: flex; flex-direction: column; justify-content: space-between; gap: 6px; position: relative; background: var(--sheet); border: 1px solid var(--line); border-radius: 3px; padding: 5px 8px 6px; min-height: 104px; box-shadow: 0 1px 0 color-mix(in srgb, var(--ink) 5%, transparent); }
    :host(.late) { border-color: var(--madder); background: var(--madder-wash); }
    :host(.narrow) { min-height: 0; padding: 3px 5px; } :host(.narrow) .t { font-size: 11.5px; padding-right: 0; } :host(.narrow) .m { display: none; }
    .tab { position: absolute; top: -1px; right: 9px; }
    .t { font: 540 14px/1.17 var(--serif); padding-right: 14px; overflow-wrap: break-word; display: -webkit-box; -webkit-line-clamp: 4; line-clamp: 4; -webkit-box-orient: vertical; overflow: hidden; }
    .m { display: flex; justify-content: space-between; align-items: center; gap: 6px; font-size: 11px; color: var(--soft); }
  `,
  host: { '[class.late]': 'post().late' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Card {
  readonly post = input.required<PostCard>();
  protected readonly by = computed(() => this.post().byline?.initials ?? 'nobody yet');
  protected readonly clock = computed(() => sayClock(this.post().runLocal ?? 'T00:00:00'));
}
