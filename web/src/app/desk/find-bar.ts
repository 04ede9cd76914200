import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterNextRender,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatButton } from '@angular/material/button';
import type { Editor } from '@tiptap/core';
import {
  SearchQuery,
  findNext,
  findPrev,
  getMatchHighlights,
  replaceAll,
  replaceNext,
  setSearchState,
} from 'prosemirror-search';

/** Finds words in the text and puts others in their place. */
@Component({
  selector: 'kr-find-bar',
  imports: [MatCheckbox, MatButton],
  templateUrl: './find-bar.html',
  styles: `
    .bar {
      display: flex;
      flex-wrap: wrap;
      gap: 8px 12px;
      align-items: end;
      padding: 8px 14px;
      border-bottom: 1px solid var(--hair);
      background: var(--paper);
    }
    label span {
      font-size: 12px;
      font-weight: 600;
      display: block;
    }
    label {
      width: 190px;
    }
    .tick {
      width: auto;
      padding-bottom: 5px;
    }
    [role='status'] {
      min-width: 90px;
      padding-bottom: 5px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FindBar {
  readonly editor = input.required<Editor>();
  readonly editable = input(true);
  readonly closed = output();
  protected readonly find = signal('');
  protected readonly replacement = signal('');
  protected readonly exact = signal(false);
  protected readonly count = signal(0);
  protected readonly said = signal('');
  private readonly field = viewChild.required<ElementRef<HTMLInputElement>>('words');

  constructor() {
    const destroyed = inject(DestroyRef);
    afterNextRender(() => {
      const { from, to } = this.editor().state.selection;
      const chosen = this.editor().state.doc.textBetween(from, to, ' ').slice(0, 200);
      if (chosen && !chosen.includes('\n')) this.look(chosen);
      this.field().nativeElement.focus();
      this.field().nativeElement.select();
      // The text may change under the search: typed in, brought in, or changed by somebody else.
      const editor = this.editor();
      const recount = () => this.recount();
      editor.on('update', recount);
      destroyed.onDestroy(() => editor.off('update', recount));
    });
  }

  protected look(words: string): void {
    this.find.set(words);
    const view = this.editor().view;
    view.dispatch(
      setSearchState(
        view.state.tr,
        new SearchQuery({
          search: words,
          replace: this.replacement(),
          caseSensitive: this.exact(),
          literal: true,
        }),
      ).setMeta('addToHistory', false),
    );
    this.recount();
  }

  protected next(event: Event): void {
    event.preventDefault();
    this.run(findNext);
  }
  protected previous(): void {
    this.run(findPrev);
  }
  protected replace(event: Event): void {
    event.preventDefault();
    if (this.editable()) this.run(replaceNext);
  }
  protected all(): void {
    const n = this.count();
    this.run(replaceAll);
    this.said.set(`${n} replaced. Undo takes them back.`);
  }

  protected close(): void {
    this.look('');
    this.closed.emit();
    this.editor().commands.focus();
  }

  private run(command: typeof findNext): void {
    const { view } = this.editor();
    command(view.state, view.dispatch, view);
    this.recount();
    view.dom.querySelector('.ProseMirror-active-search-match')?.scrollIntoView({ block: 'center' });
  }

  private recount(): void {
    this.count.set(getMatchHighlights(this.editor().state).find().length);
    this.said.set(this.find() === '' ? '' : this.count() === 0 ? 'not in the text' : `${this.count()} found`);
  }
}
