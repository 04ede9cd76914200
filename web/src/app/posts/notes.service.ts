import { Injectable, computed, inject, signal } from '@angular/core';
import type { NoteView } from '@keyroster/contract';
import type { Passage } from '@keyroster/core';
import { Api } from '../api/api';
import { Live } from '../api/live';
import { watchUnsaved } from '../ui/unsaved';

/** The notes of the post that is open. */
@Injectable()
export class NotesService {
  private readonly api = inject(Api);
  private postId: number | null = null;
  /** What is typed of notes and answers and not saved yet, by the note that it answers. */
  private readonly typed = new Map<number | null, string>();

  readonly notes = signal<NoteView[]>([]);
  readonly open = computed(() => this.notes().filter((n) => n.parentId === null && n.settledAt === null));

  constructor() {
    inject(Live).whenever(['note'], () => this.refresh());
    watchUnsaved(() => this.typed.size > 0);
  }

  show(postId: number): Promise<void> {
    if (this.postId !== postId) {
      this.notes.set([]);
      this.typed.clear();
    }
    this.postId = postId;
    return this.refresh();
  }

  async refresh(): Promise<void> {
    const id = this.postId;
    if (id === null) return;
    const notes = await this.api.call('notes.list', { id }).catch(() => null);
    if (notes && this.postId === id) this.notes.set(notes);
  }

  /** Keeps what is typed while its field is out of sight, in another tab of the post. */
  storeTyped(answers: number | null, text: string): void {
    if (text.trim() === '') this.typed.delete(answers);
    else this.typed.set(answers, text);
  }
  typedFor(answers: number | null): string {
    return this.typed.get(answers) ?? '';
  }

  /** One has the notes of this post before one's eyes. */
  async see(): Promise<void> {
    await this.api.call('notes.see', { id: this.postId!, body: {} }).catch(() => undefined);
  }

  async add(text: string, passage: Passage | null, parentId: number | null = null): Promise<void> {
    await this.api.call('notes.add', { id: this.postId!, body: { text, passage, parentId } });
    await this.refresh();
  }

  async resolve(noteId: number, settled: boolean): Promise<void> {
    await this.api.call('notes.change', { id: noteId, body: { settled } });
    await this.refresh();
  }
}
