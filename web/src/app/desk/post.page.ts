import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked, viewChild } from '@angular/core';
import { Title } from '@angular/platform-browser';
import type { Passage } from '@keyroster/core';
import { bodyText, countWords, outline, readingMinutes, sayCount, sayShortDate } from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';
import { SessionService } from '../accounts/session.service';
import { CategoryTab } from '../ui/category-tab';
import { Say } from '../ui/say.service';
import { ConflictBar } from './conflict-bar';
import { DetailsPanel } from './details-panel';
import { MovesPanel } from './moves-panel';
import { NotesPanel } from './notes-panel';
import { PostService, type Saving } from './post.service';
import { TextEditor } from './text-editor';

const SAVING: Record<Saving, string> = { saved: 'Saved', typing: 'Not saved yet …', saving: 'Saving …', unreachable: 'Offline, kept on this device', conflict: 'Changed by another, see below', refused: 'Not stored, kept on this device' };

/** One post on the desk: outline and brief, the text, and beside it what is said about it and where it goes next. */
@Component({
  imports: [TextEditor, MovesPanel, NotesPanel, DetailsPanel, ConflictBar, CategoryTab],
  providers: [PostService],
  template: `
    @if (posts.post(); as p) {
      <h1 class="unseen">{{ p.title }}</h1>
      <div class="main">
        <aside class="out" aria-label="In this post">
          <h2>In this post</h2>
          <nav aria-label="Outline">@for (h of headings(); track h.index) { <button [class.s]="h.level > 2" [class.ss]="h.level > 3" (click)="editor()?.showHeading(h.index)">{{ h.text || 'Heading without words' }}</button> } @empty { <p class="soft">Headings of the text will stand here.</p> }</nav>
          <h2>Brief</h2>
          <p class="soft brief">{{ p.brief.angle || p.thought || 'No angle was given.' }}</p>
          <p class="soft">{{ brief() }}</p>
        </aside>
        <div class="page">
          <kr-text-editor [editable]="p.rights.write" [whyNot]="whyNot()" [marked]="marked()" (reported)="report.set($event)" (noteAsked)="askNote($event)" (noteOpened)="openNote($event)">
            <ng-container tools>
              @if (p.rights.note) { <button class="note" (mousedown)="$event.preventDefault()" (click)="editor()?.askNote()" title="Ctrl Alt N">Note</button> }
              @if (p.rights.write && session.may('pitch')) { <label class="bring">Bring in …<input class="unseen" type="file" aria-label="Bring in a file" accept=".md,.markdown,.html,.htm,.docx,.txt" (change)="bringIn($event)" /></label> }
              <span class="saving" role="status" [class.warn]="posts.saving() !== 'saved' && posts.saving() !== 'typing' && posts.saving() !== 'saving'">{{ saving() }}</span>
            </ng-container>
            <div class="head">
              <kr-conflict />
              @if (posts.fault()) { <p class="fault" role="alert">{{ posts.fault() }}</p> }
              @if (report()) { <p class="report" role="status"><span>{{ report() }}</span><button class="btn small plain" (click)="report.set('')">Close</button></p> }
              <textarea class="title" rows="1" aria-label="Title" maxlength="300" [value]="p.title" [readOnly]="!p.rights.write" (input)="posts.type({ title: $any($event.target).value })" (keydown.enter)="$event.preventDefault()"></textarea>
              <p class="by">by {{ p.byline?.name ?? 'nobody yet' }} · <kr-category [id]="p.categoryId" /> · {{ words() }}</p>
              <textarea class="excerpt" rows="1" aria-label="Excerpt" maxlength="1000" placeholder="Excerpt: one sentence that says what is in it" [value]="p.excerpt" [readOnly]="!p.rights.write" (input)="posts.type({ excerpt: $any($event.target).value })"></textarea>
            </div>
          </kr-text-editor>
        </div>
        <aside class="side">
          <section class="moves" aria-label="Stage"><kr-moves /></section>
          <div class="seg" role="tablist">
            <button role="tab" id="tab-notes" [attr.aria-selected]="tab() === 'notes'" aria-controls="panel" (click)="tab.set('notes')">Notes {{ posts.openNotes().length || '' }}</button>
            <button role="tab" id="tab-details" [attr.aria-selected]="tab() === 'details'" aria-controls="panel" (click)="tab.set('details')">Details</button>
          </div>
          <div id="panel" role="tabpanel" [attr.aria-labelledby]="'tab-' + tab()">
            @if (tab() === 'notes') { <kr-notes [passage]="passage()" [shown]="shown()" (passageDropped)="passage.set(null)" (passageShown)="show($event)" /> } @else { <kr-details /> }
          </div>
        </aside>
      </div>
    } @else if (posts.fault()) { <div class="screen"><p class="fault" role="alert">{{ posts.fault() }}</p></div> }
  `,
  styleUrl: './post.page.scss',
  host: { '(document:keydown.control.s)': '$event.preventDefault(); posts.flush()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PostPage {
  protected readonly posts = inject(PostService);
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  readonly id = input.required<string>();
  protected readonly editor = viewChild(TextEditor);
  protected readonly tab = signal<'notes' | 'details'>('notes');
  protected readonly passage = signal<Passage | null>(null);
  protected readonly shown = signal<number | null>(null);
  protected readonly report = signal('');

  private readonly drawn = computed(() => this.editor()?.drawn() ?? this.posts.post()?.body ?? null);
  protected readonly headings = computed(() => { const body = this.drawn(); return body ? outline(body) : []; });
  protected readonly words = computed(() => {
    const body = this.drawn();
    const n = body ? countWords(bodyText(body)) : 0;
    return n ? `${sayCount(n, 'word')}, ${readingMinutes(n)} min` : 'no words yet';
  });
  protected readonly saving = computed(() => { const s = this.posts.saving(); return s === 'saved' ? `Saved · version ${this.posts.post()?.version ?? ''}` : SAVING[s]; });
  protected readonly marked = computed(() => this.posts.openNotes().flatMap((n) => (n.passage ? [{ noteId: n.id, passage: n.passage }] : [])),
    // Drawing the same notes anew would disturb a selection that is being made.
    { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) });
  protected readonly brief = computed(() => {
    const b = this.posts.post()?.brief;
    return [b?.length ? `About ${sayCount(b.length, 'word')}` : '', b?.copyDate ? `copy due ${sayShortDate(b.copyDate)}` : ''].filter(Boolean).join(', ') || 'No length or copy date set.';
  });
  protected readonly whyNot = computed(() => {
    const p = this.posts.post();
    if (!p) return '';
    if (p.stage === 'in review' && p.byline?.id === this.session.me()?.id) return 'In review: the text is the editor’s until changes are asked for.';
    return 'You can read this post; its text is not yours to change.';
  });

  constructor() {
    const title = inject(Title);
    effect(() => { const id = Number(this.id()); untracked(() => void this.posts.open(id)); });
    effect(() => title.setTitle(`${this.posts.post()?.title ?? 'Post'} · Key Roster`));
  }

  protected askNote(passage: Passage): void {
    this.passage.set(passage);
    this.tab.set('notes');
    setTimeout(() => document.querySelector<HTMLElement>('[data-note-field]')?.focus());
  }

  protected openNote(noteId: number): void {
    this.tab.set('notes');
    this.shown.set(noteId);
    setTimeout(() => document.querySelector(`[data-thread='${noteId}']`)?.scrollIntoView({ block: 'nearest' }));
  }

  protected show(passage: Passage): void {
    if (!this.editor()?.showPassage(passage)) this.say.done('These words are no longer in the text.');
  }

  /** A file takes the place of the text; the step can be undone in the editor, and the text before stays among the versions. */
  protected async bringIn(event: Event): Promise<void> {
    const field = event.target as HTMLInputElement;
    const file = field.files?.[0];
    field.value = '';
    if (!file) return;
    this.report.set(`Reading ${file.name} …`);
    try {
      const read = await this.api.call('bringIn.convert', { file });
      const before = this.posts.post()!;
      this.editor()?.replaceAll(read.body);
      const title = read.title && read.title !== before.title ? { title: read.title.slice(0, 300) } : {};
      const excerpt = read.excerpt && before.excerpt === '' ? { excerpt: read.excerpt } : {};
      this.posts.type({ ...title, ...excerpt });
      this.posts.post.update((p) => p && { ...p, ...title, ...excerpt });
      this.report.set(`${read.sentence} ${'title' in title ? `The title was “${before.title}”.` : ''}`.trim());
    } catch (error) {
      this.report.set(sentenceOf(error));
    }
  }
}
