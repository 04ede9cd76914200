import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { SessionService } from '../accounts/session.service';
import type { NoteView } from '@keyroster/contract';
import { formatDistance, type Passage } from '@keyroster/core';
import { sentenceOf } from '../api/api';
import { PersonBadge } from '../ui/person-badge';
import { TextField } from '../ui/fields';
import { NotesService } from './notes.service';
import { PostService } from './post.service';
import { ErrorLine } from '../ui/error-line';
import { MatTooltip } from '@angular/material/tooltip';
import { MatExpansionModule } from '@angular/material/expansion';

/** Who said what about which words: open notes first, settled ones folded away. */
@Component({
  selector: 'kr-notes',
  imports: [MatButton, PersonBadge, TextField, ErrorLine, MatTooltip, MatExpansionModule],
  templateUrl: './notes-panel.html',
  styleUrl: './notes-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NotesPanel {
  private readonly session = inject(SessionService);
  protected readonly posts = inject(PostService);
  private readonly notes = inject(NotesService);
  readonly passage = input<Passage | null>(null);
  readonly shown = input<number | null>(null);
  readonly passageDropped = output<void>();
  readonly passageShown = output<Passage>();
  protected readonly error = signal('');
  private readonly threads = computed(() => {
    const notes = this.notes.notes();
    return notes
      .filter((n) => n.parentId === null)
      .map((note) => ({ note, answers: notes.filter((n) => n.parentId === note.id) }));
  });
  protected readonly open = computed(() => this.threads().filter((t) => t.note.settledAt === null));
  protected readonly settled = computed(() => this.threads().filter((t) => t.note.settledAt !== null));

  protected age(note: NoteView): string {
    return formatDistance(this.session.local(note.at).slice(0, 10), this.session.today());
  }

  protected async add(event: Event, field: TextField): Promise<void> {
    event.preventDefault();
    await this.send(field, () => this.notes.add(field.value().trim(), this.passage()));
    if (!this.error()) this.passageDropped.emit();
  }

  protected async answer(event: Event, field: TextField, noteId: number): Promise<void> {
    event.preventDefault();
    await this.send(field, () => this.notes.add(field.value().trim(), null, noteId));
  }

  protected async settle(noteId: number, settled: boolean): Promise<void> {
    this.error.set('');
    await this.notes.resolve(noteId, settled).catch((error: unknown) => this.error.set(sentenceOf(error)));
  }

  private async send(field: TextField, act: () => Promise<void>): Promise<void> {
    this.error.set('');
    if (field.value().trim() === '') {
      this.error.set('There are no words in the note yet.');
      return;
    }
    try {
      await act();
      field.value.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
