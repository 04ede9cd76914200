import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatMenuModule } from '@angular/material/menu';
import type { Editor } from '@tiptap/core';
import { doubleBlock, stepBlock } from './block-moves';
import { placeFold } from './inserts';
import { MatTooltip } from '@angular/material/tooltip';
import { MatButton } from '@angular/material/button';

/** The toolbar above a text. */
@Component({
  selector: 'kr-tools',
  imports: [MatButton, MatMenuModule, MatTooltip],
  templateUrl: './editor-tools.html',
  styleUrl: './editor-tools.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class EditorTools {
  readonly editor = input.required<Editor>();
  /** Counts the editor's transactions, so that the buttons show what holds now. */
  readonly turn = input.required<number>();
  readonly linkAsked = output();
  readonly pictureAsked = output();
  readonly insertAsked = output();
  readonly findAsked = output();
  /** Is what is typed a suggestion? People who may only suggest cannot turn it off. */
  readonly suggests = input(false);
  readonly mustSuggest = input(false);
  readonly suggestAsked = output();
  protected readonly levels = [2, 3, 4] as const;

  protected readonly kind = computed(() => {
    this.turn();
    const level = this.levels.find((l) => this.editor().isActive('heading', { level: l }));
    return level
      ? `Heading ${level}`
      : this.editor().isActive('codeBlock')
        ? 'Code'
        : this.editor().isActive('pullQuote')
          ? 'Pull quote'
          : 'Paragraph';
  });
  protected readonly hasFold = computed(() => {
    this.turn();
    let found = false;
    this.editor().state.doc.forEach((node) => {
      found ||= node.type.name === 'foldLine';
    });
    return found;
  });

  protected on(name: string): boolean {
    this.turn();
    return this.editor().isActive(name);
  }

  protected run(command: (chain: ReturnType<Editor['chain']>) => ReturnType<Editor['chain']>): void {
    command(this.editor().chain().focus()).run();
  }
  protected fold(): void {
    placeFold(this.editor());
  }
  protected step(direction: -1 | 1): void {
    stepBlock(this.editor().view, direction);
    this.editor().commands.focus();
  }
  protected double(): void {
    doubleBlock(this.editor().view);
    this.editor().commands.focus();
  }
}
