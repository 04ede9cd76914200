import {
  ChangeDetectionStrategy,
  Component,
  booleanAttribute,
  inject,
  input,
  output,
  type OnInit,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import type { Passage } from '@keyroster/core';
import { sentenceOf } from '../api/api';
import { isReady, must, textControl } from '../ui/fields';
import { watchUnsaved } from '../ui/unsaved';
import { NoteText } from './note-text';
import { NotesService } from '../posts/notes.service';

/** A note as it is typed: on the whole post, on words of it, or as an answer to another note. */
@Component({
  selector: 'kr-note-form',
  imports: [MatButton, ReactiveFormsModule, NoteText],
  template: `
    <form [formGroup]="form" (ngSubmit)="add()" (focusout)="left()" novalidate>
      <kr-note-text
        formControlName="text"
        [label]="label()"
        [hint]="hint()"
        [quiet]="answers() !== null"
        [rows]="answers() === null ? 3 : 1"
        [placeholder]="answers() === null ? '' : 'Answer'"
        [max]="4000"
      /><button matButton="outlined" type="submit" [class.small]="answers() !== null">
        {{ answers() === null ? 'Save the note' : 'Answer' }}
      </button>
      <ng-content />
    </form>
  `,
  styles: `
    :host([line]) form {
      display: flex;
      gap: 6px;
      align-items: start;
    }
    :host([line]) kr-note-text {
      flex: 1;
    }
  `,
  host: { '[attr.line]': 'line() || null' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NoteForm implements OnInit {
  private readonly notes = inject(NotesService);
  readonly label = input.required<string>();
  readonly hint = input('');
  readonly passage = input<Passage | null>(null);
  /** The note that this one answers. */
  readonly answers = input<number | null>(null);
  /** In one line, with what else can be done. */
  readonly line = input(false, { transform: booleanAttribute });
  readonly added = output();
  protected readonly form = new FormGroup({
    text: textControl(
      '',
      must((text: string) => text.trim() !== '', 'There are no words in the note yet.'),
    ),
  });

  constructor() {
    const { text } = this.form.controls;
    text.valueChanges
      .pipe(takeUntilDestroyed())
      .subscribe((typed) => this.notes.storeTyped(this.answers(), typed));
    watchUnsaved(() => this.form.dirty && this.form.getRawValue().text.trim() !== '');
  }

  ngOnInit(): void {
    const typed = this.notes.typedFor(this.answers());
    if (typed === '') return;
    this.form.setValue({ text: typed });
    this.form.markAsDirty();
  }

  /** A note that nobody wrote after all is no mistake. */
  protected left(): void {
    if (this.form.getRawValue().text.trim() === '') this.form.markAsUntouched();
  }

  protected async add(): Promise<void> {
    if (!isReady(this.form)) return;
    try {
      await this.notes.add(this.form.getRawValue().text.trim(), this.passage(), this.answers());
      this.form.reset();
      this.added.emit();
    } catch (error) {
      this.form.controls.text.setErrors({ server: sentenceOf(error) });
      this.form.markAllAsTouched();
    }
  }
}
