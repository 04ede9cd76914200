import { ChangeDetectionStrategy, Component, inject, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { LONG_SENTENCE, formatCount, type Reading } from '@keyroster/core';
import { MeasureService } from '../posts/measure.service';

/**
 * How the text reads, measured when asked: ease and grade, long sentences, words that come again and again.
 */
@Component({
  selector: 'kr-reading',
  imports: [MatButton],
  templateUrl: './reading-panel.html',
  styles: `
    :host {
      display: block;
      border-top: 1px solid var(--line);
      margin-top: 14px;
      padding-top: 10px;
    }
    p {
      margin: 6px 0 0;
    }
    h4 {
      margin: 12px 0 4px;
      font: 600 12px var(--sans);
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      font-size: 12.5px;
      color: var(--soft);
    }
    li button {
      padding: 3px 0;
      color: inherit;
      font-size: 12.5px;
    }
    li button span {
      display: -webkit-box;
      -webkit-line-clamp: 2;
      line-clamp: 2;
      -webkit-box-orient: vertical;
      overflow: hidden;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ReadingPanel {
  private readonly measure = inject(MeasureService);
  /** A sentence to be led to. */
  readonly sought = output<string>();
  protected readonly reading = signal<Reading | null>(null);
  protected readonly limit = LONG_SENTENCE;
  protected readonly count = formatCount;
  protected readonly round = Math.round;

  async look(): Promise<void> {
    const body = this.measure.body();
    if (body) this.reading.set(await this.measure.request('reading', body).catch(() => null));
  }

  /** Bands after Flesch (1949), in plain words. */
  protected ease(value: number): string {
    return value >= 80
      ? 'easy'
      : value >= 60
        ? 'plain English'
        : value >= 50
          ? 'fairly hard'
          : value >= 30
            ? 'hard'
            : 'very hard';
  }
  protected grade(value: number): string {
    return Math.max(0, value).toFixed(1);
  }
}
