import { NgTemplateOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatExpansionModule } from '@angular/material/expansion';
import type { ComparedBlock } from '@keyroster/core';

/** What blocks without words of their own are called. */
const NAMES: Record<string, string> = {
  picture: 'Picture',
  gallery: 'Gallery',
  video: 'Video',
  button: 'Button',
  signUp: 'Sign-up',
  contents: 'Contents',
  foldLine: 'Fold',
  horizontalRule: 'Divider',
  table: 'Table',
  codeBlock: 'Code',
};

/** A run of the same blocks longer than this is folded up, but for its ends. */
const FOLDED = 4;

type Row = { block: ComparedBlock; fold: null } | { block: null; fold: { from: number; count: number } };

/** Two texts as one, or side by side: what was taken out, what was put in, and between them what stayed. */
@Component({
  selector: 'kr-compared',
  imports: [MatButton, MatExpansionModule, NgTemplateOutlet],
  templateUrl: './compared-text.html',
  styleUrl: './compared-text.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ComparedText {
  readonly blocks = input.required<readonly ComparedBlock[]>();
  readonly sideBySide = input(false);
  /** Passages can be restored from the earlier text. */
  readonly restorable = input(false);
  readonly restored = output<ComparedBlock>();
  protected readonly name = (block: ComparedBlock) => NAMES[block.type] ?? '';
  protected readonly kinds: Record<ComparedBlock['kind'], string> = {
    same: '',
    added: 'Added',
    removed: 'Removed',
    changed: 'Changed',
    form: 'Set in another way',
  };

  protected readonly kindOf = (block: ComparedBlock) => block.kind;

  protected readonly rows = computed((): Row[] => {
    const rows: Row[] = [];
    const blocks = this.blocks();
    for (let i = 0; i < blocks.length;) {
      let end = i;
      while (end < blocks.length && blocks[end]!.kind === 'same') end++;
      if (end - i > FOLDED) {
        // A line before and after what changed tells where one is.
        const [from, to] = [i === 0 ? i : i + 1, end === blocks.length ? end : end - 1];
        for (let n = i; n < from; n++) rows.push({ block: blocks[n]!, fold: null });
        rows.push({ block: null, fold: { from, count: to - from } });
        for (let n = to; n < end; n++) rows.push({ block: blocks[n]!, fold: null });
        i = end;
      } else rows.push({ block: blocks[i++]!, fold: null });
    }
    return rows;
  });
}
