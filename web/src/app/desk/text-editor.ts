import { ChangeDetectionStrategy, Component, DestroyRef, Injector, computed, effect, inject, input, output, signal, untracked } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { MatMenuModule } from '@angular/material/menu';
import { Editor } from '@tiptap/core';
import { TiptapEditorDirective } from 'ngx-tiptap';
import { safeHref, type BodyNode, type Passage } from '@keyroster/core';
import { sentenceOf } from '../api/api';
import { bodyExtensions } from './editor-extensions';
import { NotePassages, marking, passageOf, rangeOf, type MarkedPassage } from './passages';
import { readPaste } from './paste';
import { PictureDialog, type PictureChoice } from './picture-dialog';
import { PostService } from './post.service';

/** The browser tells of a selection after the key that made it; a note asked for at once would miss its last letter. */
const SELECTION_MS = 40;

/** The text of a post, with its toolbar. Typing goes to the post service; what others change is drawn without moving the caret. */
@Component({
  selector: 'kr-text-editor',
  imports: [TiptapEditorDirective, MatMenuModule],
  template: `
    @if (editable()) {
      <div class="tools" role="toolbar" aria-label="Formatting">
        <button [matMenuTriggerFor]="kinds" aria-label="Kind of block">{{ kind() }} ▾</button>
        <mat-menu #kinds="matMenu">
          <button mat-menu-item (click)="run((c) => c.setParagraph())">Paragraph</button>
          <button mat-menu-item (click)="run((c) => c.setHeading({ level: 2 }))">Heading 2</button>
          <button mat-menu-item (click)="run((c) => c.setHeading({ level: 3 }))">Heading 3</button>
          <button mat-menu-item (click)="run((c) => c.setHeading({ level: 4 }))">Heading 4</button>
        </mat-menu>
        <button (click)="run((c) => c.toggleBold())" [attr.aria-pressed]="on('bold')" aria-label="Bold"><b>B</b></button>
        <button (click)="run((c) => c.toggleItalic())" [attr.aria-pressed]="on('italic')" aria-label="Italic"><i>I</i></button>
        <button (click)="link()" [attr.aria-pressed]="on('link')">Link</button>
        <button (click)="run((c) => c.toggleBulletList())" [attr.aria-pressed]="on('bulletList')">List</button>
        <button (click)="run((c) => c.toggleOrderedList())" [attr.aria-pressed]="on('orderedList')">Numbers</button>
        <button (click)="run((c) => c.toggleBlockquote())" [attr.aria-pressed]="on('blockquote')">Quote</button>
        <button (click)="picture()">Picture</button>
        <button [matMenuTriggerFor]="more">More ▾</button>
        <mat-menu #more="matMenu">
          <button mat-menu-item (click)="run((c) => c.toggleCode())">Code in a line</button>
          <button mat-menu-item (click)="run((c) => c.toggleCodeBlock())">Code block</button>
          <button mat-menu-item (click)="run((c) => c.insertTable({ rows: 3, cols: 2, withHeaderRow: true }))">Table</button>
          @if (on('table')) { <button mat-menu-item (click)="run((c) => c.addRowAfter())">Row below</button><button mat-menu-item (click)="run((c) => c.addColumnAfter())">Column after</button><button mat-menu-item (click)="run((c) => c.deleteRow())">Remove row</button><button mat-menu-item (click)="run((c) => c.deleteTable())">Remove table</button> }
          <button mat-menu-item (click)="run((c) => c.setHorizontalRule())">Divider</button>
          <button mat-menu-item (click)="fold()">{{ hasFold() ? 'Move the fold line here' : 'Fold line' }}</button>
          <button mat-menu-item (click)="run((c) => c.undo())">Undo</button>
          <button mat-menu-item (click)="run((c) => c.redo())">Redo</button>
        </mat-menu>
        <ng-content select="[tools]" />
      </div>
    } @else { <div class="tools still"><span>{{ whyNot() }}</span><ng-content select="[tools]" /></div> }
    <ng-content />
    @if (asking(); as ask) {
      <form class="ask" (submit)="setLink($event, href.value)"><label><span>Leads to</span><input #href [value]="ask.href" placeholder="https://… or an address on this blog" autocomplete="off" /></label>
        <button class="btn small act" type="submit">Set the link</button>@if (ask.href) { <button class="btn small" type="button" (click)="setLink($event, '')">Remove it</button> }<button class="btn small" type="button" (click)="asking.set(null)">Cancel</button>
        @if (ask.fault) { <p role="alert">{{ ask.fault }}</p> }</form>
    }
    <tiptap-editor [editor]="editor" class="text" (click)="clicked($event)" />
    @if (busy()) { <p class="soft" role="status">{{ busy() }}</p> }
  `,
  styleUrl: './text-editor.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TextEditor {
  private readonly posts = inject(PostService);
  private readonly dialog = inject(MatDialog);
  private readonly injector = inject(Injector);
  readonly editable = input.required<boolean>();
  readonly whyNot = input('');
  readonly marked = input<readonly MarkedPassage[]>([]);
  /** A sentence about what a paste kept and dropped. */
  readonly reported = output<string>();
  readonly noteAsked = output<Passage>();
  readonly noteOpened = output<number>();
  /** Text as it stands on screen, for outline and counts. */
  readonly drawn = signal<BodyNode>({ type: 'doc', content: [{ type: 'paragraph' }] });
  private readonly turn = signal(0);
  protected readonly asking = signal<{ href: string; fault: string } | null>(null);
  protected readonly busy = signal('');

  readonly editor = new Editor({
    extensions: [...bodyExtensions(), NotePassages],
    editorProps: {
      attributes: { 'aria-label': 'Text of the post', 'aria-multiline': 'true', role: 'textbox', spellcheck: 'true' },
      handlePaste: (_view, event) => this.paste(event),
      handleDrop: (_view, event) => this.takeFiles(event.dataTransfer?.files, event),
      handleKeyDown: (_view, event) => this.key(event),
    },
    onUpdate: ({ editor }) => {
      const body = editor.getJSON() as BodyNode;
      this.drawn.set(body);
      this.posts.type({ body });
    },
    onTransaction: () => this.turn.update((n) => n + 1),
  });

  protected readonly kind = computed(() => {
    this.turn();
    const level = [2, 3, 4].find((l) => this.editor.isActive('heading', { level: l }));
    return level ? `Heading ${level}` : this.editor.isActive('codeBlock') ? 'Code' : 'Paragraph';
  });
  protected readonly hasFold = computed(() => (this.drawn().content ?? []).some((n) => n.type === 'foldLine'));

  constructor() {
    effect(() => this.editor.setEditable(this.editable(), false));
    effect(() => {
      this.posts.redraw();
      untracked(() => this.draw());
    });
    effect(() => this.mark(this.marked()));
    inject(DestroyRef).onDestroy(() => this.editor.destroy());
  }

  on(name: string): boolean {
    this.turn();
    return this.editor.isActive(name);
  }

  run(command: (chain: ReturnType<Editor['chain']>) => ReturnType<Editor['chain']>): void {
    command(this.editor.chain().focus()).run();
  }

  /** Puts the text in place of what is there, as one step that can be undone. */
  replaceAll(body: BodyNode): void {
    this.editor.chain().setContent(body, { emitUpdate: true }).run();
  }

  /** Leads to the words of a note, or to a heading by its place in the outline. */
  showPassage(passage: Passage): boolean {
    const range = rangeOf(this.editor.state.doc, passage);
    if (!range) return false;
    this.editor.chain().setTextSelection(range).scrollIntoView().run();
    return true;
  }
  showHeading(index: number): void {
    const heading = this.editor.view.dom.querySelectorAll('h2, h3, h4')[index];
    heading?.scrollIntoView({ block: 'center' });
  }

  selectedPassage(): Passage | null {
    const { from, to } = this.editor.state.selection;
    return from === to ? null : passageOf(this.editor.state.doc, from, to);
  }

  /** Takes the post's text onto the screen; the caret stays where it was as far as the text allows, and focus is not touched. */
  private draw(): void {
    const body = this.posts.post()?.body;
    if (!body || JSON.stringify(body) === JSON.stringify(this.editor.getJSON())) {
      if (body) this.drawn.set(body);
      return;
    }
    const { from, to } = this.editor.state.selection;
    this.editor.commands.setContent(body, { emitUpdate: false });
    const end = this.editor.state.doc.content.size;
    this.editor.commands.setTextSelection({ from: Math.min(from, end), to: Math.min(to, end) });
    this.drawn.set(body);
    this.mark(untracked(this.marked));
  }

  private mark(marked: readonly MarkedPassage[]): void {
    this.editor.view.dispatch(this.editor.state.tr.setMeta(marking.key, marked).setMeta('addToHistory', false));
  }

  private key(event: KeyboardEvent): boolean {
    const ctrl = event.ctrlKey || event.metaKey;
    if (!ctrl) return false;
    const key = event.key.toLowerCase();
    if (!event.altKey && key === 'k') this.link();
    else if (!event.altKey && key === 's') void this.posts.flush();
    else if (event.altKey && key === 'n') setTimeout(() => this.askNote(), SELECTION_MS);
    else return false;
    event.preventDefault();
    return true;
  }

  askNote(): void {
    const passage = this.selectedPassage();
    if (passage) this.noteAsked.emit(passage);
  }

  protected clicked(event: MouseEvent): void {
    const note = (event.target as HTMLElement).closest<HTMLElement>('[data-note]')?.dataset['note'];
    if (note) this.noteOpened.emit(Number(note));
  }

  protected link(): void {
    this.asking.set({ href: (this.editor.getAttributes('link')['href'] as string | undefined) ?? '', fault: '' });
    setTimeout(() => document.querySelector<HTMLInputElement>('form.ask input')?.focus());
  }

  protected setLink(event: Event, text: string): void {
    event.preventDefault();
    const typed = text.trim();
    if (typed === '') {
      this.run((c) => c.extendMarkRange('link').unsetLink());
      this.asking.set(null);
      return;
    }
    const href = safeHref(/^[\w-]+(\.[\w-]+)+([/?#]|$)/.test(typed) ? `https://${typed}` : typed);
    if (!href) {
      this.asking.set({ href: typed, fault: 'A link leads to a web address (https://…), an e-mail address (mailto:…) or a page of this blog (/…).' });
      return;
    }
    const empty = this.editor.state.selection.empty && !this.editor.isActive('link');
    this.run((c) => (empty ? c.insertContent({ type: 'text', text: typed, marks: [{ type: 'link', attrs: { href } }] }) : c.extendMarkRange('link').setLink({ href })));
    this.asking.set(null);
  }

  protected fold(): void {
    const { doc, selection } = this.editor.state;
    const found: number[] = [];
    doc.forEach((node, offset) => { if (node.type.name === 'foldLine') found.push(offset); });
    const after = selection.$from.depth > 0 ? selection.$from.after(1) : selection.to;
    const tr = this.editor.state.tr.insert(after, this.editor.schema.nodes['foldLine']!.create());
    for (const pos of found) {
      const mapped = tr.mapping.map(pos, -1);
      if (tr.doc.nodeAt(mapped)?.type.name === 'foldLine') tr.delete(mapped, mapped + 1);
    }
    this.editor.view.dispatch(tr);
    this.editor.commands.focus();
  }

  protected picture(): void {
    const selected = this.editor.isActive('picture') ? (this.editor.getAttributes('picture') as PictureChoice) : null;
    this.dialog.open<PictureDialog, PictureChoice | null, PictureChoice>(PictureDialog, { data: selected, width: '520px', maxWidth: '94vw', ariaLabel: 'Picture', injector: this.injector }).afterClosed().subscribe((choice) => {
      if (!choice) return;
      if (selected) this.run((c) => c.updateAttributes('picture', choice));
      else this.run((c) => c.insertContent({ type: 'picture', attrs: choice }));
    });
  }

  private paste(event: ClipboardEvent): boolean {
    const data = event.clipboardData;
    if (!data) return false;
    const html = data.getData('text/html');
    if (html === '') return data.getData('text/plain') === '' && this.takeFiles(data.files, event);
    // What was copied within the editor already is what a post may hold.
    if (html.includes('data-pm-slice')) return false;
    event.preventDefault();
    void this.bringHtml(html);
    return true;
  }

  private async bringHtml(html: string): Promise<void> {
    this.busy.set('Bringing in what was pasted …');
    try {
      const { content, sentence } = await readPaste(html, (file) => this.posts.keepPicture(file));
      const only = content[0];
      const inline = content.length === 1 && only?.type === 'paragraph';
      this.run((c) => c.insertContent(inline ? (only.content ?? []) : content));
      this.reported.emit(sentence);
    } catch (error) {
      this.reported.emit(sentenceOf(error));
    } finally {
      this.busy.set('');
    }
  }

  private takeFiles(files: FileList | undefined, event: Event): boolean {
    const pictures = [...(files ?? [])].filter((f) => f.type.startsWith('image/'));
    if (pictures.length === 0) return false;
    event.preventDefault();
    void (async () => {
      for (const file of pictures) {
        this.busy.set(`Keeping ${file.name || 'the picture'} …`);
        try {
          const media = await this.posts.keepPicture(file);
          this.run((c) => c.insertContent({ type: 'picture', attrs: { media, alt: '', caption: '' } }));
          this.reported.emit('The picture is in. It still needs an alternative text: select it and press Picture.');
        } catch (error) {
          this.reported.emit(sentenceOf(error));
        }
      }
      this.busy.set('');
    })();
    return true;
  }
}
