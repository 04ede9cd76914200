import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  Injector,
  effect,
  inject,
  input,
  output,
  signal,
} from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { Editor } from '@tiptap/core';
import { Collaboration } from '@tiptap/extension-collaboration';
import { TiptapEditorDirective } from 'ngx-tiptap';
import { asItWas, type BlockMove, type BodyNode, type Passage } from '@keyroster/core';
import { TEXT_FIELD } from '@keyroster/core/texts';
import { SessionService } from '../accounts/session.service';
import { Clock } from '../api/clock';
import { BlockMoves, moveRun } from './block-moves';
import { bodyExtensions } from './editor-extensions';
import { EditorTools } from './editor-tools';
import { FindBar } from './find-bar';
import { insertBlocks, openEnd, selectedBlock, showBlock } from './insert-blocks';
import { InsertPanel } from './insert-panel';
import type { PromptedBlock, Insert } from './inserts';
import { LeftoverMarks, leftoverMeta } from './leftover-marks';
import { LinkForm } from './link-form';
import { MeasureService } from '../posts/measure.service';
import { NotePassages, marking, passageOf, rangeOf, type MarkedPassage } from './passages';
import { Pasting, type Report } from './pasting';
import { PostService } from '../posts/post.service';
import { SearchMarks } from './search-marks';
import { asSuggestions, shownText } from './suggestions/as-suggestions';
import { SuggestionsService } from './suggestions/suggestions.service';
import { SelectionFirst } from './selection-first';
import { StepsAlone, alone, carets } from '../posts/together/carets';
import { SharedText } from '../posts/together/shared-text.service';
import { steady } from '../posts/together/steady';

/**
 * How long a text rests before it is read off the screen, in ms: a long one takes some milliseconds, too many
 * for every key.
 */
const restOf = (size: number) => Math.min(600, 120 + size / 100);

/**
 * The text of a post, with its toolbar: what is typed goes into the shared text, and what others type comes from
 * there. There is one for each text that is opened.
 */
@Component({
  selector: 'kr-text-editor',
  imports: [TiptapEditorDirective, EditorTools, InsertPanel, FindBar, LinkForm],
  templateUrl: './text-editor.html',
  styleUrl: './text-editor.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TextEditor {
  private readonly posts = inject(PostService);
  private readonly shared = inject(SharedText).open()!;
  private readonly measure = inject(MeasureService);
  private readonly session = inject(SessionService);
  private readonly clock = inject(Clock);
  protected readonly suggestions = inject(SuggestionsService);
  private readonly dialog = inject(MatDialog);
  private readonly injector = inject(Injector);
  readonly editable = input.required<boolean>();
  readonly whyNot = input('');
  readonly marked = input<readonly MarkedPassage[]>([]);
  /** What a paste kept and dropped, with ways back. */
  readonly reported = output<Report>();
  /** A document that was dropped on the text, or pasted. */
  readonly documentBrought = output<File>();
  readonly noteAsked = output<Passage>();
  readonly noteOpened = output<number>();
  readonly onlyTextAsked = output();
  /** Text as it stands on screen, for outline and counts. */
  readonly drawn = signal<BodyNode>({ type: 'doc', content: [{ type: 'paragraph' }] });
  protected readonly turn = signal(0);
  protected readonly linking = signal(false);
  protected readonly finding = signal(false);
  protected readonly inserting = signal<{ left: number; top: number } | null>(null);
  private rest: ReturnType<typeof setTimeout> | undefined;

  readonly editor: Editor = new Editor({
    extensions: [
      ...bodyExtensions(),
      Collaboration.configure({ document: this.shared.doc, field: TEXT_FIELD }),
      carets(this.shared),
      steady(this.shared),
      StepsAlone,
      asSuggestions({
        on: () => this.suggestions.on(),
        personId: () => this.session.me()!.id,
        now: () => `${this.clock.now().toISOString().slice(0, 16)}Z`,
      }),
      SelectionFirst,
      NotePassages,
      BlockMoves,
      LeftoverMarks,
      SearchMarks,
    ],
    editorProps: {
      attributes: {
        'aria-label': 'Text of the post',
        'aria-multiline': 'true',
        role: 'textbox',
        spellcheck: 'true',
      },
      handlePaste: (_view, event) => this.pasting.paste(event),
      handleDrop: (_view, event, _slice, moved) =>
        !moved && this.pasting.receiveFiles(event.dataTransfer?.files, event),
      handleKeyDown: (_view, event) => this.key(event),
      handleTextInput: (view, _from, _to, text) =>
        text === '+' &&
        view.state.selection.$from.parent.childCount === 0 &&
        view.state.selection.$from.parent.type.name === 'paragraph' &&
        this.openInserts(true),
    },
    onTransaction: () => this.turn.update((n) => n + 1),
  });
  protected readonly pasting: Pasting = new Pasting(
    this.editor,
    (file) => this.posts.addPicture(file),
    (report) => this.reported.emit(report),
    (file) => this.documentBrought.emit(file),
  );

  constructor() {
    effect(() => this.editor.setEditable(this.editable(), false));
    effect(() => this.mark(this.marked()));
    effect(() => {
      const blocks = this.measure.leftovers()?.blocks ?? [];
      this.editor.view.dispatch(
        this.editor.state.tr.setMeta(leftoverMeta, blocks).setMeta('addToHistory', false),
      );
    });
    this.suggestions.use(shownText(this.editor));
    this.read();
    // The text that is there already is drawn while the editor is made; only what comes after is an update.
    this.editor.on('update', () => {
      this.rest ??= setTimeout(() => this.read(), restOf(this.editor.state.doc.content.size));
    });
    inject(DestroyRef).onDestroy(() => {
      clearTimeout(this.rest);
      this.suggestions.use(null);
      this.editor.destroy();
    });
  }

  run(command: (chain: ReturnType<Editor['chain']>) => ReturnType<Editor['chain']>): void {
    command(this.editor.chain().focus()).run();
  }

  /** Does it hold nothing but empty lines? A picture is something. */
  isEmpty(): boolean {
    let isEmpty = true;
    this.editor.state.doc.descendants((node) => {
      const isThing = node.isAtom && !['foldLine', 'hardBreak'].includes(node.type.name);
      if (node.isText ? node.text?.trim() : isThing) isEmpty = false;
      return isEmpty;
    });
    return isEmpty;
  }

  /** Puts the text in place of what is there, as one step that can be undone. */
  replaceAll(body: BodyNode): void {
    this.editor
      .chain()
      .command(({ tr }) => !!alone(tr))
      .setContent(body, { emitUpdate: true })
      .run();
  }

  /** Leads to the words of a note. */
  showPassage(passage: Passage): boolean {
    const range = rangeOf(this.editor.state.doc, passage);
    if (!range) return false;
    this.editor.chain().setTextSelection(range).scrollIntoView().run();
    return true;
  }

  /** Puts blocks after all that is there. */
  append(content: BodyNode[]): void {
    this.run((c) => c.insertContentAt(this.editor.state.doc.content.size, content));
  }

  insertBlocks(content: BodyNode[]): void {
    insertBlocks(this.editor, content);
  }

  showBlock(index: number): void {
    showBlock(this.editor, index, this.editable());
  }

  moveSection(move: BlockMove): void {
    this.editor.view.dispatch(moveRun(this.editor.state, move));
    // The outline shows at once what it did.
    this.read();
  }

  selectedPassage(): Passage | null {
    const { from, to } = this.editor.state.selection;
    return from === to ? null : passageOf(this.editor.state.doc, from, to);
  }

  beginNote(): void {
    const passage = this.selectedPassage();
    if (passage) this.noteAsked.emit(passage);
  }

  /** Reads the text off the screen, for outline, counts and checks. */
  private read(): void {
    clearTimeout(this.rest);
    this.rest = undefined;
    const body = this.editor.getJSON() as BodyNode;
    this.drawn.set(body);
    this.suggestions.read(body);
    // What is only suggested is neither counted nor checked.
    this.measure.body.set(asItWas(body));
  }

  private mark(marked: readonly MarkedPassage[]): void {
    this.editor.view.dispatch(
      this.editor.state.tr.setMeta(marking.key, marked).setMeta('addToHistory', false),
    );
  }

  private key(event: KeyboardEvent): boolean {
    const ctrl = event.ctrlKey || event.metaKey;
    const key = event.key.toLowerCase();
    if (!ctrl && !event.altKey && !event.shiftKey && key === 'enter' && selectedBlock(this.editor))
      this.openBlock();
    else if (!ctrl) return false;
    else if (!event.altKey && key === 'k') this.linking.set(true);
    else if (!event.altKey && key === 's') void this.posts.flush();
    else if (event.altKey && key === 'n') this.beginNote();
    else if (event.altKey && key === 'i') this.openInserts(false);
    else if (event.altKey && key === 'f') this.finding.set(true);
    else if (event.altKey && key === 'enter') this.onlyTextAsked.emit();
    else return false;
    event.preventDefault();
    return true;
  }

  protected clicked(event: MouseEvent): void {
    const note = (event.target as HTMLElement).closest<HTMLElement>('[data-note]')?.dataset['note'];
    if (note) this.noteOpened.emit(Number(note));
    const suggestion = (event.target as HTMLElement).closest<HTMLElement>('[data-suggestion]');
    this.suggestions.shown.set(suggestion?.dataset['suggestion'] ?? null);
  }

  /** Opens the choice of blocks at the caret. `typed` when a plus on an empty line asked for it. */
  protected openInserts(typed: boolean): boolean {
    if (!this.editable()) return false;
    const at = this.editor.view.coordsAtPos(this.editor.state.selection.from);
    const left = Math.max(8, Math.min(at.left, innerWidth - 256));
    const top = at.bottom + 340 > innerHeight ? Math.max(8, at.top - 330) : at.bottom + 4;
    setTimeout(() => this.inserting.set({ left, top }));
    return typed;
  }

  protected closeInserts(literally: boolean): void {
    if (!this.inserting()) return;
    this.inserting.set(null);
    this.editor.view.focus();
    if (literally) this.run((c) => c.insertContent('+ '));
  }

  protected insert({ does }: Insert): void {
    this.inserting.set(null);
    // At once, and not with the next frame: the first letter typed belongs into the text.
    this.editor.view.focus();
    if (typeof does === 'string') void this.promptBlock(does);
    else {
      does(this.editor);
      openEnd(this.editor);
    }
  }

  protected openBlock(): void {
    const selected = selectedBlock(this.editor);
    if (selected && this.editable()) void this.promptBlock(selected.name);
  }

  /** Asks about a block: the selected one of its kind is changed, else a new one is put into the text. */
  async promptBlock(name: PromptedBlock): Promise<void> {
    const selected = selectedBlock(this.editor);
    const { promptForBlock } = await import('./prompt-block');
    const { editor } = this;
    const choice = await promptForBlock(
      this.dialog,
      this.injector,
      name,
      selected?.name === name ? selected.attrs : null,
    );
    editor.commands.focus();
    if (!choice) return;
    if (selected?.name === name && choice.length === 1)
      this.run((c) => c.updateAttributes(name, choice[0]!.attrs ?? {}));
    else this.insertBlocks(choice);
  }
}
