import { Injectable, computed, inject, signal } from '@angular/core';
import type { NoteView } from '@keyroster/contract';
import type { Passage } from '@keyroster/core';
import { Api } from '../api/api';
import { Live } from '../api/live';

/** The notes of the post that is open. */
@Injectable()
export class NotesService {
  private readonly api = inject(Api);
  private postId: number | null = null;

  readonly notes = signal<NoteView[]>([]);
  readonly open = computed(() => this.notes().filter((n) => n.parentId === null && n.settledAt === null));

  constructor() {
    inject(Live).whenever(['note'], () => void this.refresh());
  }

  show(postId: number): Promise<void> {
    if (this.postId !== postId) this.notes.set([]);
    this.postId = postId;
    return this.refresh();
  }

  async refresh(): Promise<void> {
    const id = this.postId;
    if (id === null) return;
    const notes = await this.api.call('notes.list', { id }).catch(() => null);
    if (notes && this.postId === id) this.notes.set(notes);
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
