import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { OutletView, PieceView } from '@keyroster/contract';
import { SHAPES } from '@keyroster/core';
import { isBehind } from './rollout.service';
import { capital, formatState } from './format-piece';
import { AtRoot } from '../api/root';

/** A piece among the others, as its outlet would show it: small, with what matters about it at the foot. */
@Component({
  selector: 'kr-piece-card',
  imports: [AtRoot, MatButton],
  templateUrl: './piece-card.html',
  styleUrl: './piece-card.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PieceCard {
  readonly piece = input.required<PieceView>();
  readonly outlet = input<OutletView | null>(null);
  readonly opened = output();
  readonly rebuilt = output();
  protected readonly capital = capital;
  protected readonly state = computed(() => formatState(this.piece()));
  protected readonly behind = computed(() => isBehind(this.piece()));
  protected readonly blocked = computed(() =>
    this.piece().send?.state === 'sent'
      ? null
      : (this.piece().errors.find((f) => f.blocks)?.sentence ?? null),
  );
  protected readonly limit = computed(() => this.outlet()?.limits.length?.max ?? null);
  protected readonly measure = computed(() => {
    const { drawn, shape, counts } = this.piece();
    const longest = Math.max(...counts);
    return drawn
      ? `${SHAPES[shape].width} × ${SHAPES[shape].height}`
      : this.limit()
        ? `${longest} of ${this.limit()}`
        : `${counts.reduce((a, b) => a + b, 0)} characters`;
  });
  protected readonly name = computed(
    () =>
      `${capital(this.piece().kind)} for ${this.piece().outlet}, ` +
      `${this.behind() ? 'behind the post' : this.state()}`,
  );
}
