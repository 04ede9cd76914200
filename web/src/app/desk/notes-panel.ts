import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import type { NoteView } from '@keyroster/contract';
import { sayDistance, type Passage } from '@keyroster/core';
import { sentenceOf } from '../api/api';
import { PersonBadge } from '../ui/person-badge';
import { PostService } from './post.service';

/** Who said what about which words: open notes first, settled ones folded away. */
@Component({
  selector: 'kr-notes',
  imports: [PersonBadge],
  template: `
    @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
    @if (posts.post()?.rights?.note) {
      <form (submit)="add($event, words)">
        @if (passage(); as p) { <p class="quoted">“{{ p.exact }}”<button type="button" class="btn small plain" (click)="passageDropped.emit()">on the whole post instead</button></p> }
        <label class="field"><span>{{ passage() ? 'Your note on these words' : 'Your note on the whole post' }}</span><textarea #words rows="3" maxlength="4000" data-note-field></textarea>
          @if (!passage()) { <small>Select words in the text first to leave a note on just them.</small> }</label>
        <button class="btn" type="submit">Leave the note</button>
      </form>
    }
    @for (thread of open(); track thread.note.id) {
      <article [class.on]="shown() === thread.note.id" [attr.data-thread]="thread.note.id">
        <header><kr-person [person]="thread.note.by" /><span class="soft">{{ age(thread.note) }}</span></header>
        @if (thread.note.passage; as p) { <button class="quoted" (click)="passageShown.emit(p)" title="Show these words in the text">“{{ p.exact }}”</button> }
        <p>{{ thread.note.text }}</p>
        @for (answer of thread.answers; track answer.id) { <div class="answer"><kr-person [person]="answer.by" /><p>{{ answer.text }}</p></div> }
        @if (posts.post()?.rights?.note) {
          <form class="reply" (submit)="answer($event, reply, thread.note.id)"><input #reply aria-label="Answer this note" placeholder="Answer" maxlength="4000" /><button class="btn small" type="submit">Answer</button><button class="btn small" type="button" (click)="settle(thread.note.id, true)">Settle</button></form>
        }
      </article>
    } @empty { <p class="soft none">No open notes.</p> }
    @if (settled().length > 0) {
      <details><summary>{{ settled().length }} settled</summary>
        @for (thread of settled(); track thread.note.id) {
          <article class="done"><header><kr-person [person]="thread.note.by" /><span class="soft">settled by {{ thread.note.settledBy?.name }}</span></header>
            @if (thread.note.passage; as p) { <p class="quoted">“{{ p.exact }}”</p> }<p>{{ thread.note.text }}</p>
            @for (answer of thread.answers; track answer.id) { <div class="answer"><kr-person [person]="answer.by" /><p>{{ answer.text }}</p></div> }
            @if (posts.post()?.rights?.note) { <button class="btn small" (click)="settle(thread.note.id, false)">Open again</button> }</article>
        }
      </details>
    }
  `,
  styles: `
    article { border-top: 1px solid var(--line); padding: 10px 0; } article.on { background: linear-gradient(90deg, var(--brass-wash), transparent); }
    header { display: flex; justify-content: space-between; align-items: center; margin-bottom: 5px; font-weight: 600; } header .soft { font-weight: 400; font-size: 12px; }
    .quoted { display: block; width: 100%; text-align: left; border: 0; background: none; padding: 2px 0 2px 8px; margin: 0 0 5px; border-left: 3px solid var(--brass); font: 430 13.5px/1.35 var(--serif); color: var(--soft); overflow-wrap: anywhere; } button.quoted { cursor: pointer; } button.quoted:hover { color: var(--ink); }
    p { white-space: pre-wrap; overflow-wrap: anywhere; } .answer { margin: 8px 0 0 16px; } .reply { display: flex; gap: 6px; margin-top: 8px; } .reply input { min-height: 24px; flex: 1; }
    form { margin-bottom: 12px; } .none { padding: 8px 0; } summary { cursor: pointer; color: var(--soft); padding: 8px 0; border-top: 1px solid var(--line); } .done { opacity: .85; }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NotesPanel {
  protected readonly posts = inject(PostService);
  readonly passage = input<Passage | null>(null);
  readonly shown = input<number | null>(null);
  readonly passageDropped = output<void>();
  readonly passageShown = output<Passage>();
  protected readonly fault = signal('');
  private readonly threads = computed(() => {
    const notes = this.posts.notes();
    return notes.filter((n) => n.parentId === null).map((note) => ({ note, answers: notes.filter((n) => n.parentId === note.id) }));
  });
  protected readonly open = computed(() => this.threads().filter((t) => t.note.settledAt === null));
  protected readonly settled = computed(() => this.threads().filter((t) => t.note.settledAt !== null));

  protected age(note: NoteView): string {
    return sayDistance(note.at.slice(0, 10), new Date().toISOString().slice(0, 10));
  }

  protected async add(event: Event, field: HTMLTextAreaElement): Promise<void> {
    event.preventDefault();
    await this.send(field, () => this.posts.addNote(field.value.trim(), this.passage()));
    if (!this.fault()) this.passageDropped.emit();
  }

  protected async answer(event: Event, field: HTMLInputElement, noteId: number): Promise<void> {
    event.preventDefault();
    await this.send(field, () => this.posts.addNote(field.value.trim(), null, noteId));
  }

  protected async settle(noteId: number, settled: boolean): Promise<void> {
    this.fault.set('');
    await this.posts.settle(noteId, settled).catch((error: unknown) => this.fault.set(sentenceOf(error)));
  }

  private async send(field: HTMLTextAreaElement | HTMLInputElement, act: () => Promise<void>): Promise<void> {
    this.fault.set('');
    if (field.value.trim() === '') {
      this.fault.set('There are no words in the note yet.');
      return;
    }
    try {
      await act();
      field.value = '';
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }
}
