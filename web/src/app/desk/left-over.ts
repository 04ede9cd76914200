import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { LeftoverField } from '@keyroster/core';
import { MeasureService } from '../posts/measure.service';

/** Says of a field of a copied post that it still is the source's. */
@Component({
  selector: 'kr-left-over',
  template: `
    @if (isLeft()) {
      <p>{{ sentence() }}</p>
    }
  `,
  styles: `
    p {
      color: var(--brass);
      font-weight: 600;
      margin: -6px 0 10px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LeftOver {
  private readonly measure = inject(MeasureService);
  readonly of = input.required<LeftoverField>();
  readonly sentence = input('Still that of the post this was copied from.');
  protected readonly isLeft = computed(() => this.measure.leftovers()?.fields.includes(this.of()) ?? false);
}
