import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { OutletView, PieceView } from '@keyroster/contract';
import { SHAPES } from '@keyroster/core';
import { isBehind } from './rollout.service';
import { capital, sayState } from './say-piece';

/** A piece among the others, as its outlet would show it: small, with what matters about it at the foot. */
@Component({
  selector: 'kr-piece-card',
  template: `
    @let p = piece();
    <article [class.behind]="behind()" [attr.aria-label]="name()">
      <button class="open" (click)="opened.emit()"><b>{{ capital(p.kind) }}</b><span>{{ p.outlet }}{{ p.drawn ? ' · ' + p.shape : '' }}</span></button>
      <div class="body">
        @if (p.pictures[0]; as picture) { <img [src]="picture.src" [alt]="picture.alt" loading="lazy" [class.tall]="p.shape !== 'landscape'" /> }
        @if (p.subject) { <h3>{{ p.subject }}</h3> }
        <p>{{ p.parts[0] }}</p>
        @if (p.parts.length > 1 && p.kind === 'thread') { <p class="more">{{ p.parts.length }} parts</p> }
      </div>
      <footer>
        @if (behind()) { <span class="stale" [title]="p.moved.sentence">Built from version {{ p.sourceVersion }}</span><span class="acts"><button (click)="opened.emit()">Compare</button> · <button (click)="rebuilt.emit()">Rebuild</button></span> }
        @else if (blocked(); as why) { <span class="bad" [title]="why">{{ why }}</span> }
        @else { <span>{{ measure() }}</span>@if (!p.drawn && limit(); as most) { <span class="meter" aria-hidden="true"><i [style.width.%]="100 * p.counts[0]! / most"></i></span> } <span [class.bad]="p.send?.state === 'failed'" [class.stale]="p.send?.state === 'unsure'">{{ state() }}</span> }
      </footer>
    </article>
  `,
  styles: `
    article { height: 252px; display: flex; flex-direction: column; background: var(--sheet); border: 1px solid var(--line); border-radius: 4px; padding: 9px 11px; } article.behind { border-color: var(--brass); }
    .open { display: flex; justify-content: space-between; gap: 8px; border: 0; background: none; padding: 0; margin-bottom: 6px; font-size: 12px; cursor: pointer; text-align: left; } .open b { font-weight: 650; } .open span { color: var(--soft); white-space: nowrap; overflow: hidden; text-overflow: ellipsis; } .open:hover b { text-decoration: underline; }
    .body { flex: 1; overflow: hidden; mask-image: linear-gradient(#000 86%, transparent); } h3 { margin-bottom: 4px; } p { white-space: pre-line; overflow-wrap: anywhere; } .more { color: var(--soft); margin-top: 4px; } img { display: block; width: 100%; height: 138px; object-fit: cover; border-radius: 3px; margin-bottom: 6px; background: var(--hair); } img.tall { object-fit: contain; }
    footer { display: flex; justify-content: space-between; align-items: center; gap: 8px; border-top: 1px solid var(--hair); padding-top: 6px; color: var(--soft); font-size: 11.5px; min-height: 25px; } footer button { border: 0; background: none; padding: 0; color: var(--verdigris); font-weight: 600; cursor: pointer; } .stale { color: var(--brass); font-weight: 650; } .bad { color: var(--madder); font-weight: 600; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; } .acts { white-space: nowrap; }
    .meter { flex: 0 1 84px; height: 4px; border-radius: 2px; background: var(--hair); overflow: hidden; } .meter i { display: block; height: 100%; background: var(--verdigris); }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PieceCard {
  readonly piece = input.required<PieceView>();
  readonly outlet = input<OutletView | null>(null);
  readonly opened = output();
  readonly rebuilt = output();
  protected readonly capital = capital;
  protected readonly state = computed(() => sayState(this.piece()));
  protected readonly behind = computed(() => isBehind(this.piece()));
  protected readonly blocked = computed(() => (this.piece().send?.state === 'sent' ? null : this.piece().faults.find((f) => f.blocks)?.sentence ?? null));
  protected readonly limit = computed(() => this.outlet()?.limits.length?.most ?? null);
  protected readonly measure = computed(() => {
    const { drawn, shape, counts } = this.piece();
    const longest = Math.max(...counts);
    return drawn ? `${SHAPES[shape].width} × ${SHAPES[shape].height}` : this.limit() ? `${longest} of ${this.limit()}` : `${counts.reduce((a, b) => a + b, 0)} characters`;
  });
  protected readonly name = computed(() => `${capital(this.piece().kind)} for ${this.piece().outlet}, ${this.behind() ? 'behind the post' : this.state()}`);
}
