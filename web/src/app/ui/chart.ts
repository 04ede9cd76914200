import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterRenderEffect,
  inject,
  input,
  viewChild,
} from '@angular/core';
import type { ECharts } from 'echarts/core';

/**
 * A picture of figures, as wide as there is room. What it shows stands as a table beside it, for who does not
 * see it.
 */
@Component({
  selector: 'kr-chart',
  template: '<div #chart></div>',
  styles: `
    :host {
      display: block;
    }
    div {
      height: 240px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Chart {
  /** Draws into an element; null while there is nothing to draw. */
  readonly draw = input.required<((at: HTMLElement) => ECharts) | null>();
  private readonly at = viewChild.required<ElementRef<HTMLElement>>('chart');
  private drawn: ECharts | null = null;

  constructor() {
    const watch = new ResizeObserver(() => this.drawn?.resize());
    afterRenderEffect(() => {
      const draw = this.draw();
      const element = this.at().nativeElement;
      this.drawn?.dispose();
      this.drawn = draw && draw(element);
      watch.observe(element);
    });
    inject(DestroyRef).onDestroy(() => {
      watch.disconnect();
      this.drawn?.dispose();
    });
  }
}
