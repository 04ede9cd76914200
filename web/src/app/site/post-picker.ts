import { ChangeDetectionStrategy, Component, booleanAttribute, inject, input, output } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormControl, ReactiveFormsModule } from '@angular/forms';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { MatOption } from '@angular/material/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { catchError, debounceTime, filter, map, of, switchMap } from 'rxjs';
import type { Stage } from '@keyroster/core';
import { Api } from '../api/api';

export interface PickedPost {
  id: number;
  title: string;
  /** Everybody may read it. */
  shown: boolean;
}
export interface FoundPost extends PickedPost {
  stage: Stage;
}

const PAUSE_MS = 200;
const SHOWN = 8;
let made = 0;

/** Finds a post by its words, a published one unless any will do; the newest are offered first. */
@Component({
  selector: 'kr-post-picker',
  imports: [MatAutocompleteModule, MatFormFieldModule, MatInput, MatOption, ReactiveFormsModule],
  template: `
    <label [for]="id">{{ label() }}</label>
    <mat-form-field>
      <input
        matInput
        [id]="id"
        [formControl]="words"
        [matAutocomplete]="list"
        [attr.disabled]="off() ? '' : null"
        placeholder="words of its title"
        (focus)="words.setValue(words.value)"
      />
      <mat-autocomplete #list [displayWith]="typed" (optionSelected)="choose($event.option.value)">
        @for (post of found(); track post.id) {
          <mat-option [value]="post">{{ post.title }}</mat-option>
        }
      </mat-autocomplete>
    </mat-form-field>
  `,
  styleUrl: '../ui/fields/field.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PostPicker {
  private readonly api = inject(Api);
  readonly label = input.required<string>();
  readonly off = input(false);
  /** Posts that are not out are offered too. */
  readonly any = input(false, { transform: booleanAttribute });
  readonly picked = output<FoundPost>();
  protected readonly id = `picked-post-${++made}`;
  protected readonly words = new FormControl<string | FoundPost>('', { nonNullable: true });
  protected readonly found = toSignal(
    this.words.valueChanges.pipe(
      filter((words): words is string => typeof words === 'string'),
      debounceTime(PAUSE_MS),
      switchMap((words) =>
        this.api
          .request('posts.list', {
            query: { ...(this.any() ? {} : { stage: ['published'] }), words, sort: '-run', limit: SHOWN },
          })
          .pipe(
            map((page) =>
              page.posts.map(({ id, title, stage }): FoundPost => ({ id, title, stage, shown: true })),
            ),
            catchError(() => of([])),
          ),
      ),
    ),
    { initialValue: [] as FoundPost[] },
  );

  /** What is chosen does not stay in the field. */
  protected readonly typed = (value: string | FoundPost): string => (typeof value === 'string' ? value : '');

  protected choose(post: FoundPost): void {
    this.picked.emit(post);
    this.words.setValue('');
  }
}
