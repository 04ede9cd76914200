import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatChipsModule } from '@angular/material/chips';
import { MatIcon } from '@angular/material/icon';
import type { PersonView } from '@keyroster/contract';
import { Api } from '../api/api';
import { ChoiceField, FieldSet } from '../ui/fields';
import type { Stored } from './stored';
import { PostService } from '../posts/post.service';

/** Who writes the open post, with whom, and who proofreads it. */
@Component({
  selector: 'kr-post-people',
  imports: [ChoiceField, FieldSet, MatCheckbox, MatChipsModule, MatIcon],
  templateUrl: './post-people.html',
  styles: `
    fieldset {
      border: 0;
      padding: 0;
      margin: 0;
      min-width: 0;
    }
    .label {
      display: block;
      font-weight: 600;
      font-size: 12px;
      margin-bottom: 3px;
    }
    mat-chip-set {
      display: block;
      margin-bottom: 5px;
    }
    kr-choice[quiet] {
      margin-bottom: 10px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PostPeople {
  protected readonly posts = inject(PostService);
  private readonly people = signal<PersonView[]>([]);
  readonly store = output<Stored>();
  private readonly mayWrite = computed(() =>
    this.people().filter((p) => p.active && ['contributor', 'editor', 'managing editor'].includes(p.role)),
  );
  protected readonly writers = computed(() => this.mayWrite());
  protected readonly others = computed(() => {
    const p = this.posts.post();
    return this.mayWrite().filter((w) => w.id !== p?.byline?.id && !p?.coauthors.some((c) => c.id === w.id));
  });
  protected readonly proofreaders = computed(() =>
    this.people().filter((p) => p.active && p.role !== 'reader'),
  );

  constructor() {
    void inject(Api)
      .call('people.list', {})
      .then(
        (people) => this.people.set(people),
        () => undefined,
      );
  }

  protected coauthor(id: number, on: boolean): void {
    this.store.emit([
      ({ coauthors }) => {
        const held = coauthors.map((c) => c.id).filter((h) => h !== id);
        return { coauthorIds: on ? [...held, id] : held };
      },
      'The co-authors',
    ]);
  }
}
