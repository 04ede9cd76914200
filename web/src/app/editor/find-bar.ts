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
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
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
import { TextField, textControl } from '../ui/fields';

/** Finds words in the text and puts others in their place. */
@Component({
  selector: 'kr-find-bar',
  imports: [MatCheckbox, MatButton, ReactiveFormsModule, TextField],
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
    kr-text {
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
  protected readonly form = new FormGroup({
    find: textControl(),
    replacement: textControl(),
    exact: new FormControl(false, { nonNullable: true }),
  });
  protected readonly count = signal(0);
  protected readonly said = signal('');
  private readonly bar = inject<ElementRef<HTMLElement>>(ElementRef);

  constructor() {
    const destroyed = inject(DestroyRef);
    this.form.valueChanges.pipe(takeUntilDestroyed()).subscribe(() => this.look());
    afterNextRender(() => {
      const { from, to } = this.editor().state.selection;
      const chosen = this.editor().state.doc.textBetween(from, to, ' ').slice(0, 200);
      if (chosen && !chosen.includes('\n')) this.form.controls.find.setValue(chosen);
      const field = this.bar.nativeElement.querySelector('input');
      field?.focus();
      // What was chosen stands in the field once it is drawn.
      setTimeout(() => field?.select());
      // The text may change under the search: typed in, brought in, or changed by somebody else.
      const editor = this.editor();
      const recount = () => this.recount();
      editor.on('update', recount);
      destroyed.onDestroy(() => editor.off('update', recount));
    });
  }

  private look(): void {
    const { find, replacement, exact } = this.form.getRawValue();
    const { view } = this.editor();
    view.dispatch(
      setSearchState(
        view.state.tr,
        new SearchQuery({
          search: find,
          replace: replacement,
          caseSensitive: exact,
          literal: true,
        }),
      ).setMeta('addToHistory', false),
    );
    this.recount();
  }

  protected next(): void {
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
    this.form.controls.find.setValue('');
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
    this.said.set(
      this.form.getRawValue().find === ''
        ? ''
        : this.count() === 0
          ? 'not in the text'
          : `${this.count()} found`,
    );
  }
}
