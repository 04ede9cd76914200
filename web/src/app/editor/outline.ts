import { CdkDrag, CdkDropList, type CdkDragDrop } from '@angular/cdk/drag-drop';
import { MatButton } from '@angular/material/button';
import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { sectionMove, sectionsOf, sectionStep, type BlockMove, type BodyNode } from '@keyroster/core';

/** The post's sections, made from its headings: leads to them and moves them whole. */
@Component({
  selector: 'kr-outline',
  imports: [CdkDropList, CdkDrag, MatButton],
  template: `
    <nav
      aria-label="Outline"
      cdkDropList
      [cdkDropListDisabled]="!editable()"
      (cdkDropListDropped)="drop($event)"
    >
      @for (s of sections(); track $index; let i = $index) {
        <button
          matButton
          class="as-line"
          cdkDrag
          [cdkDragDisabled]="!editable()"
          cdkDragLockAxis="y"
          [class.s]="s.level === 3"
          [class.ss]="s.level === 4"
          [class.skips]="s.skips"
          (click)="shown.emit(s.from)"
          (keydown)="key($event, i)"
          [attr.aria-keyshortcuts]="editable() ? 'Alt+ArrowUp Alt+ArrowDown' : null"
        >
          {{ s.text || 'Heading without words' }}
          @if (s.skips) {
            <small>skips a level</small>
          }
        </button>
      } @empty {
        <p class="soft">Headings of the text appear here.</p>
      }
    </nav>
    @if (sections().length > 1 && editable()) {
      <p class="soft hint">Move sections by drag or Alt ↑ ↓.</p>
    }
  `,
  styles: `
    .as-line {
      --mat-button-text-label-text-color: var(--soft);
      --mat-button-text-label-text-size: 12.5px;
      border-left: 2px solid var(--line);
      background: var(--paper);
      padding: 4px 0 4px 10px;
    }
    .as-line:hover {
      --mat-button-text-label-text-color: var(--ink);
      border-color: var(--ink);
    }
    .as-line.s {
      padding-left: 22px;
    }
    .as-line.ss {
      padding-left: 34px;
    }
    .as-line.skips {
      border-left-color: var(--brass);
    }
    small {
      display: block;
      color: var(--brass);
      font-weight: 600;
    }
    .hint {
      font-size: 11.5px;
      margin-top: 5px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Outline {
  readonly body = input.required<BodyNode>();
  readonly editable = input(false);
  /** The block to show. */
  readonly shown = output<number>();
  readonly moved = output<BlockMove>();
  protected readonly sections = computed(() => sectionsOf(this.body()));

  protected drop(event: CdkDragDrop<unknown>): void {
    const { previousIndex, currentIndex } = event;
    if (previousIndex === currentIndex) return;
    // Dropped below its place, a section stands after the one it was dropped on.
    this.move(
      sectionMove(this.body(), previousIndex, currentIndex > previousIndex ? currentIndex + 1 : currentIndex),
    );
  }

  protected key(event: KeyboardEvent, index: number): void {
    if (!event.altKey || !this.editable() || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
    event.preventDefault();
    const move = sectionStep(this.body(), index, event.key === 'ArrowUp' ? -1 : 1);
    if (!move) return;
    const text = this.sections()[index]!.text;
    this.move(move);
    setTimeout(() => {
      const at = this.sections().findIndex((s) => s.text === text);
      document.querySelectorAll<HTMLElement>('kr-outline nav button')[at]?.focus();
    }, 60);
  }

  private move(move: BlockMove | null): void {
    if (move) this.moved.emit(move);
  }
}
