import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatChipsModule } from '@angular/material/chips';
import { MatIcon } from '@angular/material/icon';
import type { PersonView } from '@keyroster/contract';
import { Api } from '../api/api';
import { ChoiceField, FieldSet, choicesOf } from '../ui/fields';
import type { Stored } from './details-panel';
import { PostService } from './post.service';

/** Who writes the open post, with whom, and who proofreads it. */
@Component({
  selector: 'kr-post-people',
  imports: [ChoiceField, FieldSet, MatChipsModule, MatIcon],
  template: `
    @if (posts.post(); as p) {
      <fieldset [off]="!p.rights.details">
        <kr-choice
          label="Byline"
          none="nobody yet"
          [options]="writers()"
          [value]="p.byline?.id ?? null"
          (changed)="store.emit([{ bylineId: $event }, 'The byline'])"
        />
        <span class="label" id="coauthors">Co-authors</span>
        @if (p.coauthors.length > 0) {
          <mat-chip-set aria-labelledby="coauthors">
            @for (w of p.coauthors; track w.id) {
              <mat-chip [removable]="p.rights.details" (removed)="coauthor(w.id, false)">
                {{ w.name }}
                @if (p.rights.details) {
                  <button matChipRemove [attr.aria-label]="'Take ' + w.name + ' off'">
                    <mat-icon svgIcon="close" />
                  </button>
                }
              </mat-chip>
            }
          </mat-chip-set>
        }
        <kr-choice
          label="Add a co-author"
          quiet
          placeholder="add one …"
          [options]="others()"
          [value]="null"
          (changed)="$event && coauthor($event, true)"
        />
        <kr-choice
          label="Proofreader"
          none="nobody"
          [options]="proofreaders()"
          [value]="p.proofreader?.id ?? null"
          (changed)="store.emit([{ proofreaderId: $event }, 'The proofreader'])"
        />
      </fieldset>
    }
  `,
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
  protected readonly writers = computed(() => choicesOf(this.mayWrite()));
  protected readonly others = computed(() => {
    const p = this.posts.post();
    return choicesOf(
      this.mayWrite().filter((w) => w.id !== p?.byline?.id && !p?.coauthors.some((c) => c.id === w.id)),
    );
  });
  protected readonly proofreaders = computed(() =>
    choicesOf(this.people().filter((p) => p.active && p.role !== 'reader')),
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
