import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output } from '@angular/core';
import type { MediaView } from '@keyroster/contract';
import { SHAPES, SHAPE_NAMES, cropFor, type Focus } from '@keyroster/core';
import { later } from '../ui/later';
import { AtRoot } from '../api/root';

const STEP = 0.02;

/**
 * The point of a picture that must stay in sight, set by click or arrows, and how the three shapes are cut
 * around it.
 */
@Component({
  selector: 'kr-focus',
  imports: [AtRoot],
  template: `
    <div class="whole">
      <!-- eslint-disable-next-line @angular-eslint/template/click-events-have-key-events, @angular-eslint/template/interactive-supports-focus -- the point on it is moved by keys -->
      <img [src]="picture().src | atRoot" alt="" (click)="set($event)" [class.still]="!editable()" />
      @if (editable()) {
        <button
          class="point"
          [style.left.%]="at().x * 100"
          [style.top.%]="at().y * 100"
          (keydown)="key($event)"
          [attr.aria-label]="
            'Focus at ' +
            percent(at().x) +
            ' from the left, ' +
            percent(at().y) +
            ' from the top; move it with the arrow keys'
          "
        ></button>
      } @else {
        <i class="point" [style.left.%]="at().x * 100" [style.top.%]="at().y * 100"></i>
      }
    </div>
    <div class="shapes" aria-hidden="true">
      @for (s of shapes(); track s.name) {
        <figure>
          <div [style.aspect-ratio]="s.ratio">
            <img
              [src]="picture().src | atRoot"
              alt=""
              [style.width.%]="s.width"
              [style.left.%]="s.left"
              [style.top.%]="s.top"
            />
          </div>
          <figcaption>{{ s.name }}</figcaption>
        </figure>
      }
    </div>
  `,
  styles: `
    .whole {
      position: relative;
      margin: 8px 0;
      line-height: 0;
    }
    .whole img {
      width: 100%;
      border-radius: 3px;
      cursor: crosshair;
    }
    .still {
      cursor: default;
    }
    .point {
      position: absolute;
      width: 22px;
      height: 22px;
      margin: -11px 0 0 -11px;
      padding: 0;
      border: 3px solid #fff;
      border-radius: 50%;
      background: transparent;
      box-shadow:
        0 0 0 1px #17211e,
        inset 0 0 0 1px #17211e;
      cursor: move;
    }
    .shapes {
      display: flex;
      gap: 8px;
      align-items: end;
      margin-bottom: 8px;
    }
    figure {
      margin: 0;
      flex: 1;
    }
    figure div {
      position: relative;
      overflow: hidden;
      border-radius: 2px;
      background: var(--hair);
    }
    figure img {
      position: absolute;
      max-width: none;
    }
    figcaption {
      font-size: 11px;
      color: var(--soft);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FocusPoint {
  readonly picture = input.required<MediaView>();
  readonly editable = input(true);
  readonly moved = output<Focus>();
  /**
   * Where it was moved to and not yet told: an answer about another field of the same picture must not put it
   * back.
   */
  private held = false;
  protected readonly at = linkedSignal<MediaView, Focus>({
    source: this.picture,
    computation: (p, before) => (this.held && before?.source.id === p.id ? before.value : p.focus),
  });
  private readonly tell = later(300, (at: Focus) => {
    this.held = false;
    this.moved.emit(at);
  });
  protected readonly percent = (share: number) => `${Math.round(share * 100)}%`;

  /** Each shape as a window over the whole picture. */
  protected readonly shapes = computed(() =>
    SHAPE_NAMES.map((name) => {
      const { width, height } = this.picture();
      const cut = cropFor(width, height, SHAPES[name], this.at());
      return {
        name,
        ratio: SHAPES[name].width / SHAPES[name].height,
        width: (width / cut.width) * 100,
        left: (-cut.left / cut.width) * 100,
        top: (-cut.top / cut.height) * 100,
      };
    }),
  );

  protected set(event: MouseEvent): void {
    if (!this.editable()) return;
    const box = (event.target as HTMLElement).getBoundingClientRect();
    this.move({ x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height });
  }

  protected key(event: KeyboardEvent): void {
    const step = { ArrowLeft: [-STEP, 0], ArrowRight: [STEP, 0], ArrowUp: [0, -STEP], ArrowDown: [0, STEP] }[
      event.key
    ];
    if (!step) return;
    event.preventDefault();
    this.move({ x: this.at().x + step[0]!, y: this.at().y + step[1]! });
  }

  private move({ x, y }: Focus): void {
    const within = (v: number) => Math.min(1, Math.max(0, Math.round(v * 1000) / 1000));
    this.at.set({ x: within(x), y: within(y) });
    this.held = true;
    this.tell(this.at());
  }
}
