import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { STAGES, teeth, type Stage } from '@keyroster/core';

const TOOTH_STEP = 3.6;

/**
 * A post's stage as a key blade with one tooth cut for each of the seven stages reached. The only stage code
 * there is.
 */
@Component({
  selector: 'kr-mark',
  template: `
    <svg
      [attr.width]="width()"
      [attr.height]="(width() * 12) / 35"
      viewBox="0 0 35 12"
      role="img"
      [attr.aria-label]="label()"
    >
      <title>{{ label() }}</title>
      <circle cx="4.2" cy="5" r="3.1" fill="none" stroke="currentColor" stroke-width="1.7" />
      <rect x="7" y="4.2" width="27.5" height="2" fill="currentColor" />
      @for (tooth of cuts(); track $index) {
        <rect
          [attr.x]="tooth.x"
          y="6.2"
          width="2.4"
          [attr.height]="tooth.cut ? 4.6 : 1.2"
          [class.uncut]="!tooth.cut"
        />
      }
    </svg>
  `,
  styles: `
    :host {
      display: inline-block;
      vertical-align: middle;
      color: var(--ink);
      line-height: 0;
    }
    :host(.late) {
      color: var(--madder);
    }
    rect {
      fill: currentColor;
    }
    .uncut {
      fill: color-mix(in srgb, var(--soft) 45%, transparent);
    }
  `,
  host: { '[class.late]': 'late()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BittingMark {
  readonly stage = input.required<Stage>();
  readonly late = input(false);
  readonly width = input(34);
  protected readonly label = computed(() => (this.late() ? `${this.stage()}, late` : this.stage()));
  protected readonly cuts = computed(() =>
    STAGES.slice(0, 7).map((_, i) => ({ x: 9 + i * TOOTH_STEP, cut: i < teeth(this.stage()) })),
  );
}
