import {
  ChangeDetectionStrategy,
  Component,
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
import { sentenceOf } from '../api/api';
import { DetailsPanel } from '../desk/details-panel';
import { MeasureService } from '../desk/measure.service';
import { MovesPanel } from '../desk/moves-panel';
import { LeadPictureService } from '../desk/lead-picture.service';
import { NotesService } from '../desk/notes.service';
import { PostService } from '../desk/post.service';

/** The name a field has for those who see it. */
const nameOf = (field: Element | null) =>
  field?.getAttribute('aria-label') ??
  field?.closest('label')?.querySelector('span')?.textContent?.trim() ??
  '';

/**
 * Everything of a post but its text, changed beside the table, with the desk's own fields, moves and checks.
 */
@Component({
  selector: 'kr-row-details',
  imports: [MatButton, DetailsPanel, MovesPanel, RouterLink],
  providers: [NotesService, PostService, MeasureService, LeadPictureService],
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
  protected readonly told = signal('');

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

  protected async store(changes: PostChanges, what: string, field?: HTMLTextAreaElement): Promise<void> {
    this.error.set('');
    if (changes.title === '') {
      this.error.set(`${what} was not saved. A post needs a title.`);
      if (field) field.value = this.posts.post()!.title;
      return;
    }
    try {
      await this.posts.change(changes);
      this.told.set(`${what} is stored.`);
    } catch (error) {
      this.error.set(`${what} was not saved. ${sentenceOf(error)}`);
    }
  }
}
