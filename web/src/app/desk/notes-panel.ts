import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { SessionService } from '../accounts/session.service';
import type { NoteView } from '@keyroster/contract';
import { formatDistance, type Passage } from '@keyroster/core';
import { sentenceOf } from '../api/api';
import { PersonBadge } from '../ui/person-badge';
import { NotesService } from '../posts/notes.service';
import { PostService } from '../posts/post.service';
import { ErrorLine } from '../ui/error-line';
import { MatTooltip } from '@angular/material/tooltip';
import { MatExpansionModule } from '@angular/material/expansion';
import { NoteForm } from './note-form';
import { NotedWords } from '../editor/noted-words';

/** Who said what about which words: open notes first, settled ones folded away. */
@Component({
  selector: 'kr-notes',
  imports: [MatButton, PersonBadge, ErrorLine, MatTooltip, MatExpansionModule, NoteForm, NotedWords],
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

  constructor() {
    // What mentions one here is seen with this panel.
    let seen = '';
    effect(() => {
      const me = this.session.me()?.id;
      const mine = this.notes.notes().filter((n) => n.mentions.some((m) => m.person.id === me));
      const ids = mine.map((n) => n.id).join(' ');
      if (ids !== '' && ids !== seen) void this.notes.see();
      seen = ids;
    });
  }

  protected age(note: NoteView): string {
    return formatDistance(this.session.local(note.at).slice(0, 10), this.session.today());
  }

  protected async settle(noteId: number, settled: boolean): Promise<void> {
    this.error.set('');
    await this.notes.resolve(noteId, settled).catch((error: unknown) => this.error.set(sentenceOf(error)));
  }
}
