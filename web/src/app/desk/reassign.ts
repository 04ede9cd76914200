import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { PersonView } from '@keyroster/contract';
import { SessionService } from '../accounts/session.service';
import { Api } from '../api/api';
import { ChoiceField } from '../ui/fields';
import { PostService } from '../posts/post.service';

/** Asks which other editor is to read a post; it waits for them alone then. */
@Component({
  selector: 'kr-reassign',
  imports: [ChoiceField, MatButton],
  template: `
    <form (submit)="$event.preventDefault(); done()" novalidate>
      <kr-choice
        label="Who reads it"
        none="the first free editor"
        [options]="editors()"
        [value]="chosen()"
        (changed)="chosen.set($event)"
      />
      <div class="row">
        <button matButton="filled" type="submit">Reassign</button
        ><button matButton="outlined" type="button" (click)="cancelled.emit()">Cancel</button>
      </div>
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Reassign {
  private readonly posts = inject(PostService);
  private readonly me = inject(SessionService).me;
  private readonly people = signal<PersonView[]>([]);
  readonly picked = output<{ id: number | null; name: string }>();
  readonly cancelled = output();
  protected readonly chosen = signal<number | null>(this.posts.post()?.editor?.id ?? null);
  /** Those who decide about posts of its category, and the person who has it now. */
  protected readonly editors = computed(() => {
    const category = this.posts.post()?.categoryId;
    return this.people().filter(
      (p) =>
        p.active &&
        (p.role === 'managing editor' ||
          (p.role === 'editor' &&
            category !== null &&
            category !== undefined &&
            p.categories.includes(category))),
    );
  });

  constructor() {
    void inject(Api)
      .call('people.list', {})
      .then(
        (people) => this.people.set(people),
        () => undefined,
      );
  }

  protected done(): void {
    const id = this.chosen();
    const name = this.editors().find((p) => p.id === id)?.name ?? '';
    this.picked.emit({ id, name: id === this.me()?.id ? 'you' : name });
  }
}
