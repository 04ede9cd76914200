import {
  CdkDrag,
  CdkDragHandle,
  CdkDropList,
  moveItemInArray,
  type CdkDragDrop,
} from '@angular/cdk/drag-drop';
import { NgTemplateOutlet } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  TemplateRef,
  contentChild,
  inject,
  input,
  output,
} from '@angular/core';
import { MatIconButton } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';

/** Things in an order of their own, changed by dragging, or by two buttons each. */
@Component({
  selector: 'kr-ordered',
  imports: [CdkDrag, CdkDragHandle, CdkDropList, MatIcon, MatIconButton, MatTooltip, NgTemplateOutlet],
  template: `
    <ol cdkDropList [attr.aria-label]="label()" (cdkDropListDropped)="drop($event)">
      @for (item of items(); track $index; let i = $index) {
        <li cdkDrag>
          <div class="line">
            <span class="handle" cdkDragHandle aria-hidden="true">⠿</span>
            <span class="grow"
              >{{ nameOf()(item) }}<small class="soft">{{ noteOf()(item) }}</small></span
            >
            <button
              matIconButton
              type="button"
              [disabled]="i === 0"
              [attr.aria-label]="'Move up: ' + nameOf()(item)"
              matTooltip="Move up"
              (click)="move(i, i - 1, 'up')"
            >
              <mat-icon svgIcon="up" />
            </button>
            <button
              matIconButton
              type="button"
              [disabled]="i === items().length - 1"
              [attr.aria-label]="'Move down: ' + nameOf()(item)"
              matTooltip="Move down"
              (click)="move(i, i + 1, 'down')"
            >
              <mat-icon svgIcon="down" />
            </button>
            <ng-container
              [ngTemplateOutlet]="actions() ?? null"
              [ngTemplateOutletContext]="{ $implicit: item, index: i }"
            />
          </div>
          <ng-container
            [ngTemplateOutlet]="below() ?? null"
            [ngTemplateOutletContext]="{ $implicit: item, index: i }"
          />
        </li>
      }
    </ol>
  `,
  styles: `
    ol {
      list-style: none;
      margin: 8px 0;
      padding: 0;
    }
    li {
      background: var(--sheet);
      border: 1px solid var(--line);
      border-radius: 4px;
      padding: 4px 8px 4px 10px;
      margin-bottom: 4px;
    }
    .line {
      display: flex;
      align-items: center;
      gap: 6px;
    }
    small {
      display: block;
    }
    .handle {
      cursor: grab;
      color: var(--soft);
    }
    .grow {
      flex: 1;
      min-width: 0;
      overflow-wrap: anywhere;
    }
    @media (max-width: 700px) {
      .line {
        flex-wrap: wrap;
      }
      .grow {
        flex-basis: 60%;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OrderedList<T> {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  readonly label = input.required<string>();
  readonly items = input.required<readonly T[]>();
  readonly nameOf = input.required<(item: T) => string>();
  readonly noteOf = input<(item: T) => string>(() => '');
  readonly ordered = output<T[]>();
  /** Buttons at the end of a line, and what stands under it; with the thing and its index. */
  protected readonly actions = contentChild<TemplateRef<unknown>>('actions');
  protected readonly below = contentChild<TemplateRef<unknown>>('below');

  protected drop({ previousIndex, currentIndex }: CdkDragDrop<unknown>): void {
    this.move(previousIndex, currentIndex);
  }
  /** Focus goes along with what was moved by a button. */
  protected move(from: number, to: number, by?: 'up' | 'down'): void {
    const items = [...this.items()];
    moveItemInArray(items, from, to);
    this.ordered.emit(items);
    if (!by) return;
    setTimeout(() => {
      const buttons = this.host.nativeElement.querySelectorAll('li')[to]?.querySelectorAll('button');
      const wanted = buttons?.[by === 'up' ? 0 : 1];
      (wanted?.disabled ? buttons?.[by === 'up' ? 1 : 0] : wanted)?.focus();
    });
  }
}
