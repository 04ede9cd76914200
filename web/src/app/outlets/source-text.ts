import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { SourceSentence } from '@keyroster/core';

interface Block {
  kind: SourceSentence['kind'];
  sentences: { at: number; text: string }[];
}

/**
 * The post in sentences, those shaded that pieces are built from. With `choosable`, pressing a sentence
 * shades it or takes the shade away.
 */
@Component({
  selector: 'kr-source-text',
  template: `
    @for (b of blocks(); track $index) {
      <p [class]="b.kind">
        @for (s of b.sentences; track s.at) {
          @if (choosable() && b.kind !== 'heading' && b.kind !== 'caption') {
            <span
              role="button"
              tabindex="0"
              class="line"
              [attr.aria-pressed]="shaded().has(s.at)"
              [class.on]="shaded().has(s.at)"
              (click)="toggled.emit(s.at)"
              (keydown.enter)="toggled.emit(s.at)"
              (keydown.space)="$event.preventDefault(); toggled.emit(s.at)"
              >{{ s.text }}</span
            >
          } @else if (shaded().has(s.at)) {
            <mark>{{ s.text }}</mark>
          } @else {
            <span>{{ s.text }}</span>
          }
          {{ ' ' }}
        }
      </p>
    } @empty {
      <p class="soft">The post has no text yet. Pieces are made from its sentences.</p>
    }
  `,
  styles: `
    p {
      font: 430 14.5px/1.5 var(--serif);
      margin-bottom: 9px;
      overflow-wrap: anywhere;
    }
    .heading {
      font: 560 16px/1.2 var(--serif);
      margin: 12px 0 5px;
    }
    .list {
      padding-left: 14px;
      text-indent: -10px;
    }
    .list::before {
      content: '– ';
      color: var(--soft);
    }
    .quote {
      padding-left: 12px;
      border-left: 2px solid var(--line);
      font-style: italic;
    }
    .caption {
      font: 400 12px/1.4 var(--sans);
      color: var(--soft);
    }
    .soft {
      font-family: var(--sans);
    }
    mark {
      background: var(--verdigris-wash);
      border-bottom: 2px solid var(--verdigris);
      color: inherit;
    }
    /* A button would be a box of its own; a sentence runs on with its paragraph. */
    .line {
      border-bottom: 2px solid transparent;
      cursor: pointer;
    }
    .line:hover {
      border-bottom-color: var(--line);
    }
    .line.on {
      background: var(--verdigris-wash);
      border-bottom-color: var(--verdigris);
    }
    .line:focus-visible {
      outline-offset: 1px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SourceText {
  readonly sentences = input.required<readonly SourceSentence[]>();
  readonly shaded = input.required<ReadonlySet<number>>();
  readonly choosable = input(false);
  readonly toggled = output<number>();
  protected readonly blocks = computed(() => {
    const blocks: Block[] = [];
    let last = -1;
    for (const [at, s] of this.sentences().entries()) {
      if (s.block !== last) blocks.push({ kind: s.kind, sentences: [] });
      last = s.block;
      blocks.at(-1)!.sentences.push({ at, text: s.text });
    }
    return blocks;
  });
}
