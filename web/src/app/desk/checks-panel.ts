import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { Check } from '@keyroster/core';
import { MeasureService } from '../posts/measure.service';
import { PostService } from '../posts/post.service';

const STATES = {
  blocks: { mark: '✕', name: 'holds the post back' },
  warns: { mark: '!', name: 'warns' },
  fine: { mark: '✓', name: 'fine' },
} as const;

/**
 * The one list of checks: what holds the post back, what warns, what is fine; each with its measure, what is
 * wanted, and the way to fix it.
 */
@Component({
  selector: 'kr-checks',
  imports: [MatButton],
  template: `
    @if (measure.checks(); as checks) {
      <p class="soft sum" role="status">{{ sum() }}</p>
      <ul>
        @for (c of checks; track c.key) {
          <li [class]="c.state">
            <i role="img" [attr.aria-label]="states[c.state].name">{{ states[c.state].mark }}</i><span
              ><b>{{ c.measure }}</b
              ><small>{{ c.wanted }}</small></span
            >
            @if (c.state !== 'fine' && posts.post()?.rights?.write) {
              <button
                matButton
                class="as-words fix"
                (click)="fix.emit(c)"
                [attr.aria-label]="c.offer + ': ' + c.measure"
              >
                {{ c.offer }}
              </button>
            }
          </li>
        }
      </ul>
    } @else {
      <p class="soft">Measuring …</p>
    }
  `,
  styles: `
    .sum {
      margin-bottom: 4px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      display: grid;
      grid-template-columns: 18px 1fr auto;
      gap: 6px;
      padding: 8px 0;
      border-bottom: 1px solid var(--line);
      align-items: start;
    }
    i {
      font: 700 13px var(--sans);
    }
    .blocks i {
      color: var(--madder);
    }
    .warns i {
      color: var(--brass);
    }
    .fine i {
      color: var(--verdigris);
    }
    b {
      font-weight: 500;
      display: block;
      overflow-wrap: anywhere;
    }
    small {
      color: var(--soft);
    }
    .fine {
      padding: 5px 0;
    }
    .fix {
      white-space: nowrap;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChecksPanel {
  protected readonly measure = inject(MeasureService);
  protected readonly posts = inject(PostService);
  readonly fix = output<Check>();
  protected readonly states = STATES;

  protected sum(): string {
    const { blocks, warns } = this.measure.counts();
    if (blocks === 0 && warns === 0) return 'Everything is as it should be.';
    return (
      [
        blocks > 0
          ? `${blocks === 1 ? 'One thing holds' : `${blocks} things hold`} the post back`
          : 'Nothing holds the post back',
        warns > 0 ? `${warns === 1 ? 'one warning' : `${warns} warnings`}` : '',
      ]
        .filter(Boolean)
        .join(', ') + '.'
    );
  }
}
