import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  afterNextRender,
  computed,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { insertsFor, type Insert } from './inserts';

/** Chooses a block to put into the text: type a word of its name, arrows, Enter. */
@Component({
  selector: 'kr-insert',
  template: `
    <div
      class="panel"
      role="dialog"
      aria-label="Insert a block"
      [style.left.px]="at().left"
      [style.top.px]="at().top"
      (focusout)="left($event)"
    >
      <input
        #field
        role="combobox"
        aria-expanded="true"
        aria-controls="insert-list"
        aria-autocomplete="list"
        [attr.aria-activedescendant]="'insert-' + active()"
        aria-label="Which block?"
        placeholder="Which block?"
        autocomplete="off"
        [value]="words()"
        (input)="type(field.value)"
        (keydown)="key($event)"
      />
      <ul id="insert-list" role="listbox" aria-label="Blocks">
        @for (i of found(); track i.label; let n = $index) {
          <!-- eslint-disable-next-line @angular-eslint/template/click-events-have-key-events, @angular-eslint/template/interactive-supports-focus -- the line above has the focus and the keys -->
          <li
            role="option"
            [id]="'insert-' + n"
            [attr.aria-selected]="n === active()"
            (mousedown)="$event.preventDefault()"
            (click)="chosen.emit(i)"
          >
            {{ i.label }}
          </li>
        } @empty {
          <li class="soft none">No block is called that.</li>
        }
      </ul>
    </div>
  `,
  styles: `
    .panel {
      position: fixed;
      z-index: 20;
      width: 240px;
      background: var(--sheet);
      border: 1px solid var(--ink);
      border-radius: 4px;
      padding: 6px;
    }
    ul {
      list-style: none;
      margin: 6px 0 0;
      padding: 0;
      max-height: 270px;
      overflow: auto;
    }
    li {
      padding: 4px 8px;
      border-radius: 3px;
      cursor: pointer;
    }
    li:hover {
      background: var(--hair);
    }
    [aria-selected='true'] {
      background: var(--verdigris-wash);
    }
    .none {
      cursor: default;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class InsertPanel {
  /** Where the caret is, in the window. */
  readonly at = input.required<{ left: number; top: number }>();
  readonly chosen = output<Insert>();
  /** Closed without a choice; with `literally`, the plus that opened it was meant. */
  readonly closed = output<{ literally: boolean }>();
  protected readonly words = signal('');
  protected readonly active = signal(0);
  protected readonly found = computed(() => insertsFor(this.words()));
  private readonly field = viewChild.required<ElementRef<HTMLInputElement>>('field');
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);

  constructor() {
    afterNextRender(() => this.field().nativeElement.focus());
  }

  protected type(words: string): void {
    this.words.set(words);
    this.active.set(0);
  }

  protected key(event: KeyboardEvent): void {
    const count = this.found().length;
    const act: Record<string, () => void> = {
      ArrowDown: () => this.go((this.active() + 1) % Math.max(1, count)),
      ArrowUp: () => this.go((this.active() + count - 1) % Math.max(1, count)),
      Home: () => this.go(0),
      End: () => this.go(count - 1),
      Enter: () => {
        const i = this.found()[this.active()];
        if (i) this.chosen.emit(i);
      },
      Escape: () => this.closed.emit({ literally: false }),
      Tab: () => this.closed.emit({ literally: false }),
      ' ': () => {
        if (this.words() === '') this.closed.emit({ literally: true });
      },
      Backspace: () => {
        if (this.words() === '') this.closed.emit({ literally: false });
      },
    };
    const does = act[event.key];
    if (!does || ((event.key === ' ' || event.key === 'Backspace') && this.words() !== '')) return;
    event.preventDefault();
    event.stopPropagation();
    does();
  }

  protected left(event: FocusEvent): void {
    if (event.relatedTarget instanceof Node && this.host.nativeElement.contains(event.relatedTarget)) return;
    this.closed.emit({ literally: false });
  }

  private go(n: number): void {
    this.active.set(n);
    this.host.nativeElement.querySelector(`#insert-${n}`)?.scrollIntoView({ block: 'nearest' });
  }
}
