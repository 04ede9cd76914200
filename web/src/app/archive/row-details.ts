import {
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { PostChanges } from '@keyroster/contract';
import { maxOf } from '@keyroster/core';
import { sentenceOf } from '../api/api';
import { DetailsPanel } from '../desk/details-panel';
import { MeasureService } from '../posts/measure.service';
import { MovesPanel } from '../desk/moves-panel';
import { ReviewService } from '../desk/review.service';
import { SuggestionsService } from '../editor/suggestions/suggestions.service';
import { LeadPictureService } from '../desk/lead-picture.service';
import { NotesService } from '../posts/notes.service';
import { PostService } from '../posts/post.service';
import { LetterAtReleaseService } from '../letters/letter-at-release.service';
import { FieldSet, MomentField, TextField } from '../ui/fields';
import { ErrorLine } from '../ui/error-line';
import { MatTooltip } from '@angular/material/tooltip';

/** The name a field has for those who see it. */
const nameOf = (field: Element | null) =>
  field?.getAttribute('aria-label') ??
  (field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement
    ? field.labels?.[0]?.textContent?.trim()
    : null) ??
  '';

/**
 * Everything of a post but its text, changed beside the table, with the desk's own fields, moves and checks.
 */
@Component({
  selector: 'kr-row-details',
  imports: [
    DetailsPanel,
    FieldSet,
    MatButton,
    MomentField,
    MovesPanel,
    RouterLink,
    TextField,
    ErrorLine,
    MatTooltip,
  ],
  providers: [
    NotesService,
    PostService,
    MeasureService,
    LeadPictureService,
    SuggestionsService,
    ReviewService,
    LetterAtReleaseService,
  ],
  templateUrl: './row-details.html',
  styles: `
    :host {
      display: block;
    }
    .top {
      margin-bottom: 10px;
    }
    fieldset {
      border: 0;
      margin: 0;
      padding: 0;
      min-width: 0;
    }
    .runs {
      margin: -6px 0 8px;
    }
    .desk {
      margin: 8px 0 12px;
    }
    kr-moves {
      border-block: 1px solid var(--line);
      padding: 10px 0;
      margin-bottom: 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(keydown)': 'key($event)' },
})
export class RowDetails {
  protected readonly posts = inject(PostService);
  private readonly measure = inject(MeasureService);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  readonly id = input.required<number>();
  readonly stepped = output<1 | -1>();
  readonly closed = output();
  protected readonly error = signal('');
  protected readonly status = signal('');
  protected readonly max = maxOf;
  protected readonly runHint = computed(() => {
    switch (this.posts.post()?.stage) {
      case 'pitch':
        return 'A pitch has no date. Commission it, and it gets one.';
      case 'scheduled':
        return 'It goes out then.';
      case 'published':
        return 'Dated back, it takes its place in the order of posts.';
      default:
        return '';
    }
  });

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => {
        this.error.set('');
        void this.posts.open(id);
      });
    });
    // Stepping on, one stays in the same field of the next post.
    effect(() => {
      if (this.posts.post()) untracked(() => setTimeout(() => this.comeBack()));
    });
    // The checks that moves ask for are those of the text as it is saved.
    effect(() => {
      const p = this.posts.post();
      if (p) untracked(() => this.measure.body.set(p.body));
    });
  }

  private field: string | null = null;

  private comeBack(): void {
    if (this.field === null) return;
    const field = [...this.host.querySelectorAll<HTMLElement>('input, mat-select, textarea')].find(
      (f) => nameOf(f) === this.field,
    );
    (field ?? this.host.querySelector<HTMLElement>('h2'))?.focus();
    this.field = null;
  }

  protected key(event: KeyboardEvent): void {
    const step = event.altKey ? ({ ArrowDown: 1, ArrowUp: -1 } as const)[event.key] : undefined;
    if (step) {
      event.preventDefault();
      // A field tells what it holds when it is left.
      this.field = nameOf(document.activeElement);
      (document.activeElement as HTMLElement | null)?.blur();
      this.stepped.emit(step);
    } else if (event.key === 'Escape') {
      event.stopPropagation();
      (document.activeElement as HTMLElement | null)?.blur();
      this.closed.emit();
    }
  }

  protected retitle(typed: string, field: TextField): void {
    const title = typed.trim();
    if (title !== '') void this.store({ title }, 'The title');
    else {
      this.error.set('The title was not saved. A post needs a title.');
      field.show(this.posts.post()!.title);
    }
  }

  protected async store(changes: PostChanges, what: string): Promise<void> {
    this.error.set('');
    try {
      await this.posts.change(changes);
      this.status.set(`${what} is saved.`);
    } catch (error) {
      this.error.set(`${what} was not saved. ${sentenceOf(error)}`);
    }
  }
}
