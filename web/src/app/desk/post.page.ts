import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { Title } from '@angular/platform-browser';
import {
  EMPTY_BODY,
  readingMinutes,
  formatCount,
  formatShortDate,
  textFieldsIn,
  type BodyNode,
  type Check,
  type Passage,
} from '@keyroster/core';
import { FileButton } from '../ui/file-button';
import { SessionService } from '../accounts/session.service';
import { CategoryTab } from '../site/category-tab';
import { Messages } from '../ui/messages.service';
import { ChecksPanel } from './checks-panel';
import { DetailsPanel } from './details-panel';
import { LetterAtReleaseService } from '../letters/letter-at-release.service';
import { LeadPictureService } from './lead-picture.service';
import { MeanwhileBar } from './meanwhile-bar';
import { MeasureService } from '../posts/measure.service';
import { MovesPanel } from './moves-panel';
import { NotesService } from '../posts/notes.service';
import { NotesPanel } from './notes-panel';
import { Outline } from '../editor/outline';
import { TaskService } from '../api/task.service';
import type { Report } from '../editor/pasting';
import { BringIn } from './bring-in.service';
import { PostChores } from '../checklists/post-chores';
import { PostMenu } from './post-menu';
import { PostService } from '../posts/post.service';
import { ReviewService } from './review.service';
import { ReadingPanel } from './reading-panel';
import { SuggestionBar } from '../editor/suggestions/suggestion-bar';
import { SuggestionsList } from '../editor/suggestions/suggestions-list';
import { SuggestionsService } from '../editor/suggestions/suggestions.service';
import { TextEditor } from '../editor/text-editor';
import { TitlesPanel } from './titles-panel';
import { Here } from '../posts/together/here';
import { RefusedText } from '../posts/together/refused-text';
import { SharedText } from '../posts/together/shared-text.service';
import type { Saving } from '../posts/typed-fields';
import { ErrorLine } from '../ui/error-line';
import { MatTabsModule } from '@angular/material/tabs';
import { MatTooltip } from '@angular/material/tooltip';

const SAVING: Record<Saving, string> = {
  saved: 'Saved',
  typing: 'Not saved yet …',
  saving: 'Saving …',
  unreachable: 'Offline, kept on this device',
  refused: 'Not stored, kept on this device',
};
const FOCUSABLE = 'input, textarea, button, [tabindex]';
const TABS = ['checks', 'details', 'titles', 'notes'] as const;
type Tab = (typeof TABS)[number];

/**
 * One post on the desk: outline and brief, the text, and beside it what is said about it and where it goes
 * next.
 */
@Component({
  imports: [
    FileButton,
    MatButton,
    RouterLink,
    TextEditor,
    MovesPanel,
    NotesPanel,
    DetailsPanel,
    ChecksPanel,
    TitlesPanel,
    ReadingPanel,
    Here,
    MeanwhileBar,
    RefusedText,
    SuggestionBar,
    SuggestionsList,
    CategoryTab,
    Outline,
    PostChores,
    PostMenu,
    ErrorLine,
    MatTabsModule,
    MatTooltip,
  ],
  providers: [
    NotesService,
    SharedText,
    PostService,
    MeasureService,
    TaskService,
    BringIn,
    LeadPictureService,
    SuggestionsService,
    ReviewService,
    LetterAtReleaseService,
  ],
  templateUrl: './post.page.html',
  styleUrl: './post.page.scss',
  host: {
    '(document:keydown.control.s)': '$event.preventDefault(); posts.flush()',
    '(document:keydown.escape)': 'setOnlyText(false)',
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PostPage {
  protected readonly posts = inject(PostService);
  protected readonly texts = inject(SharedText);
  protected readonly measure = inject(MeasureService);
  protected readonly session = inject(SessionService);
  private readonly bringIn = inject(BringIn);
  private readonly messages = inject(Messages);
  private readonly pictures = inject(LeadPictureService);
  protected readonly notes = inject(NotesService);
  private readonly suggestions = inject(SuggestionsService);
  readonly id = input.required<string>();
  /** The note that led here. */
  readonly note = input<string>();
  protected readonly editor = viewChild(TextEditor);
  private readonly reading = viewChild(ReadingPanel);
  protected readonly tabs = TABS;
  protected readonly underTitle = textFieldsIn('under the title');
  protected readonly tab = signal<Tab>('checks');
  protected readonly passage = signal<Passage | null>(null);
  protected readonly shown = signal<number | null>(null);
  protected readonly report = this.bringIn.report;
  protected readonly say = (report: Report | null) => this.bringIn.say(report);
  protected readonly onlyText = signal(false);

  protected readonly drawn = computed(() => this.editor()?.drawn() ?? this.posts.post()?.body ?? EMPTY_BODY);
  protected readonly words = computed(() => {
    const n = this.measure.words() ?? this.posts.post()?.words ?? 0;
    return n ? `${formatCount(n, 'word')}, ${readingMinutes(n)} min` : 'no words yet';
  });
  protected readonly saving = computed(() => {
    const s = this.posts.saving();
    return s === 'saved' ? `Saved · version ${this.posts.post()?.version ?? ''}` : SAVING[s];
  });
  protected readonly marked = computed(
    () => this.notes.open().flatMap((n) => (n.passage ? [{ noteId: n.id, passage: n.passage }] : [])),
    // Drawing the same notes again would disturb a selection that is being made.
    { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
  );
  protected readonly brief = computed(() => {
    const b = this.posts.post()?.brief;
    return (
      [
        b?.length ? `About ${formatCount(b.length, 'word')}` : '',
        b?.copyDate ? `copy due ${formatShortDate(b.copyDate)}` : '',
      ]
        .filter(Boolean)
        .join(', ') || 'No length or copy date set.'
    );
  });
  protected readonly whyNot = computed(() => {
    const p = this.posts.post();
    if (!p) return '';
    if (p.stage === 'in review' && p.byline?.id === this.session.me()?.id)
      return 'In review: the text is the editor’s until changes are asked for.';
    return 'You can read this post; its text is not yours to change.';
  });
  protected readonly tabName = (tab: Tab): string => {
    const { blocks, warns } = this.measure.counts();
    return {
      checks: `Checks ${blocks + warns || ''}`,
      details: 'Details',
      titles: 'Titles',
      notes: `Notes ${this.notes.open().length + this.suggestions.list().length || ''}`,
    }[tab].trim();
  };

  constructor() {
    const title = inject(Title);
    effect(() => {
      const id = Number(this.id());
      untracked(() => void this.posts.open(id));
    });
    // Who comes back to a post that was sent back wants to know why.
    const sentBack = computed(() => {
      const p = this.posts.post();
      return p && p.openNotes > 0 && p.stage === 'drafting' && p.rights.write && !p.rights.details ? p.id : 0;
    });
    effect(() => {
      if (sentBack()) untracked(() => this.tab.set('notes'));
    });
    // Led here by a note that mentions one; an answer stands with the note that it answers.
    const asked = computed(() => {
      const note = this.notes.notes().find((n) => n.id === Number(this.note()));
      return note ? (note.parentId ?? note.id) : 0;
    });
    effect(() => {
      const thread = asked();
      if (thread) untracked(() => this.openNote(thread));
    });
    effect(() => title.setTitle(`${this.posts.post()?.title ?? 'Post'} · Key Roster`));
    effect(() => document.body.classList.toggle('only-text', this.onlyText()));
    inject(DestroyRef).onDestroy(() => document.body.classList.remove('only-text'));
  }

  protected readonly typed = (event: Event) => (event.target as HTMLTextAreaElement).value;

  protected typeTitle(event: Event): void {
    const title = this.typed(event);
    this.measure.title.set(title);
    this.posts.type({ title });
  }

  protected setOnlyText(on: boolean): void {
    if (this.onlyText() !== on) this.onlyText.set(on);
  }

  protected beginNote(passage: Passage): void {
    this.passage.set(passage);
    this.focus('notes', '[data-note-field]');
  }

  protected openNote(noteId: number): void {
    this.tab.set('notes');
    this.shown.set(noteId);
    setTimeout(() =>
      document.querySelector(`[data-thread='${noteId}']`)?.scrollIntoView({ block: 'nearest' }),
    );
  }

  protected show(passage: Passage): void {
    if (!this.editor()?.showPassage(passage)) this.messages.done('These words are no longer in the text.');
  }

  protected showWords(exact: string): void {
    this.show({ exact, prefix: '', suffix: '' });
  }

  /** Leads to where a check can be met. */
  protected fix(check: Check): void {
    const where: Record<Check['fix'], () => void> = {
      titles: () => this.tab.set('titles'),
      address: () => this.focus('details', '[data-address]'),
      category: () => this.focus('details', '[data-category]'),
      tags: () => this.focus('details', '[data-tags]'),
      excerpt: () => this.focus('checks', '.excerpt'),
      search: () => this.focus('details', '[data-search]'),
      format: () => this.focus('details', '[data-format]'),
      lead: () => this.focus('details', '[data-lead]', (button) => button.click()),
      lighten: () => void this.pictures.lighten(this.posts.post()!.leadPicture!.media),
      alt: () =>
        check.block === undefined ? this.focus('details', '[data-lead-alt]') : this.showBlock(check.block),
      heading: () => this.showBlock(check.block ?? 0),
      link: () => this.showBlock(check.block ?? 0),
      leftover: () =>
        check.block === undefined ? this.focus('details', '[data-address]') : this.showBlock(check.block),
      alike: () => {
        const other = this.measure.context()?.alike;
        if (other) window.open(`posts/${other.id}`, '_blank', 'noopener');
      },
      measure: () => void this.reading()?.look(),
      fold: () => this.showBlock(0),
      text: () => this.showBlock(Number.MAX_SAFE_INTEGER),
    };
    where[check.fix]();
  }

  private showBlock(index: number): void {
    this.editor()?.showBlock(index);
  }

  private focus(tab: Tab, selector: string, then?: (field: HTMLElement) => void): void {
    this.tab.set(tab);
    setTimeout(() => {
      const place = document.querySelector<HTMLElement>(selector);
      const field = place?.matches(FOCUSABLE) ? place : place?.querySelector<HTMLElement>(FOCUSABLE);
      field?.scrollIntoView({ block: 'center' });
      field?.focus();
      if (field) then?.(field);
    });
  }

  protected start(body: BodyNode): void {
    const editor = this.editor();
    if (editor) this.bringIn.start(editor, body);
  }

  protected importFile([file]: File[]): void {
    const editor = this.editor();
    if (file && editor) void this.bringIn.importFile(editor, file);
  }
}
