import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatMenuModule } from '@angular/material/menu';
import type { Editor } from '@tiptap/core';
import { doubleBlock, stepBlock } from './block-moves';
import { placeFold } from './inserts';

/** The toolbar above a text. */
@Component({
  selector: 'kr-tools',
  imports: [MatMenuModule],
  template: `
    <div class="tools" role="toolbar" aria-label="Formatting">
      <button [matMenuTriggerFor]="kinds" aria-label="Kind of block">{{ kind() }} ▾</button>
      <mat-menu #kinds="matMenu">
        <button mat-menu-item (click)="run((c) => c.setParagraph())">Paragraph <kbd>Ctrl Alt 0</kbd></button>
        @for (l of levels; track l) { <button mat-menu-item (click)="run((c) => c.setHeading({ level: l }))">Heading {{ l }} <kbd>Ctrl Alt {{ l }}</kbd></button> }
      </mat-menu>
      <button (click)="run((c) => c.toggleBold())" [attr.aria-pressed]="on('bold')" aria-label="Bold"><b>B</b></button>
      <button (click)="run((c) => c.toggleItalic())" [attr.aria-pressed]="on('italic')" aria-label="Italic"><i>I</i></button>
      <button (click)="linkAsked.emit()" [attr.aria-pressed]="on('link')">Link</button>
      <button (click)="run((c) => c.toggleBulletList())" [attr.aria-pressed]="on('bulletList')">List</button>
      <button (click)="run((c) => c.toggleBlockquote())" [attr.aria-pressed]="on('blockquote')">Quote</button>
      <button (click)="pictureAsked.emit()">Picture</button>
      <button (click)="insertAsked.emit()" title="Ctrl Alt I, or + on an empty line">Insert ▾</button>
      <button [matMenuTriggerFor]="more">More ▾</button>
      <mat-menu #more="matMenu">
        <button mat-menu-item (click)="run((c) => c.toggleOrderedList())">Numbered list</button>
        <button mat-menu-item (click)="run((c) => c.toggleCode())">Code in a line</button>
        @if (on('table')) { <button mat-menu-item (click)="run((c) => c.addRowAfter())">Row below</button><button mat-menu-item (click)="run((c) => c.addColumnAfter())">Column after</button><button mat-menu-item (click)="run((c) => c.deleteRow())">Remove row</button><button mat-menu-item (click)="run((c) => c.deleteColumn())">Remove column</button><button mat-menu-item (click)="run((c) => c.deleteTable())">Remove table</button> }
        @if (on('noteBox')) { <button mat-menu-item (click)="run((c) => c.lift('noteBox'))">Out of the note box</button> }
        <button mat-menu-item (click)="fold()">{{ hasFold() ? 'Move the fold line here' : 'Fold line' }}</button>
        <button mat-menu-item (click)="step(-1)">Block up <kbd>Alt Shift ↑</kbd></button>
        <button mat-menu-item (click)="step(1)">Block down <kbd>Alt Shift ↓</kbd></button>
        <button mat-menu-item (click)="double()">Copy the block below <kbd>Ctrl Alt D</kbd></button>
        <button mat-menu-item (click)="findAsked.emit()">Find and replace <kbd>Ctrl Alt F</kbd></button>
        <button mat-menu-item (click)="run((c) => c.undo())">Undo <kbd>Ctrl Z</kbd></button>
        <button mat-menu-item (click)="run((c) => c.redo())">Redo <kbd>Ctrl Y</kbd></button>
      </mat-menu>
      <ng-content />
    </div>
  `,
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
  protected readonly levels = [2, 3, 4] as const;

  protected readonly kind = computed(() => {
    this.turn();
    const level = this.levels.find((l) => this.editor().isActive('heading', { level: l }));
    return level ? `Heading ${level}` : this.editor().isActive('codeBlock') ? 'Code' : this.editor().isActive('pullQuote') ? 'Pull quote' : 'Paragraph';
  });
  protected readonly hasFold = computed(() => {
    this.turn();
    let found = false;
    this.editor().state.doc.forEach((node) => { found ||= node.type.name === 'foldLine'; });
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
