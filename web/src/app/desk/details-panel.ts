import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatOption } from '@angular/material/core';
import { MatSelect } from '@angular/material/select';
import { MatFormField } from '@angular/material/form-field';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatButton } from '@angular/material/button';
import type { PersonView, PostChanges, PostView } from '@keyroster/contract';
import { proposeSlugs, formatBytes, type BodyNode, type LeftoverField } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { FormatFields } from './format-fields';
import { LeadPictureService } from './lead-picture.service';
import { MeasureService } from './measure.service';
import { PostService } from './post.service';
import { SeenOutside } from './seen-outside';
import { TagsField } from './tags-field';

/** Everything of a post but its text. Each field is stored when it is left. */
@Component({
  selector: 'kr-details',
  imports: [MatOption, MatSelect, MatFormField, MatCheckbox, MatButton, TagsField, FormatFields, SeenOutside],
  templateUrl: './details-panel.html',
  styles: `
    fieldset {
      border: 0;
      padding: 0;
      margin: 0;
      min-width: 0;
    }
    img {
      width: 100%;
      border-radius: 3px;
      margin-bottom: 6px;
      display: block;
    }
    .two {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 8px;
    }
    h3 {
      border-top: 1px solid var(--line);
      padding: 10px 0 8px;
    }
    .buttons {
      margin-top: 6px;
    }
    .tick {
      display: flex;
      gap: 7px;
      align-items: center;
    }
    .left {
      color: var(--brass) !important;
      font-weight: 600;
    }
    .people {
      list-style: none;
      display: flex;
      flex-wrap: wrap;
      gap: 5px;
      margin: 0 0 5px;
      padding: 0;
    }
    .people:empty {
      display: none;
    }
    .people li {
      border: 1px solid var(--line);
      border-radius: 3px;
      padding: 1px 2px 1px 7px;
      font-size: 12px;
      background: var(--field);
    }
    .people button {
      border: 0;
      background: none;
      cursor: pointer;
      color: var(--soft);
      font-size: 10px;
      min-height: 22px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DetailsPanel {
  protected readonly posts = inject(PostService);
  protected readonly session = inject(SessionService);
  protected readonly measure = inject(MeasureService);
  protected readonly pictures = inject(LeadPictureService);
  readonly started = output<BodyNode>();
  protected readonly error = signal('');
  protected readonly told = signal('');
  private readonly people = signal<PersonView[]>([]);
  protected readonly base = location.origin;
  protected readonly bytes = formatBytes;
  protected readonly writers = computed(() =>
    this.people().filter((p) => p.active && ['contributor', 'editor', 'managing editor'].includes(p.role)),
  );
  protected readonly others = computed(() => {
    const p = this.posts.post();
    return this.writers().filter((w) => w.id !== p?.byline?.id && !p?.coauthors.some((c) => c.id === w.id));
  });
  protected readonly proofreaders = computed(() =>
    this.people().filter((p) => p.active && p.role !== 'reader'),
  );
  protected readonly proposals = computed(() => {
    const p = this.posts.post();
    return p
      ? proposeSlugs(p.title, (a) => a === p.slug, this.measure.keyWords())
          .filter((a) => a !== p.slug && a !== p.proposedSlug)
          .slice(0, 3)
      : [];
  });

  /** Is this still the source's, in a copied post? */
  protected left(field: LeftoverField): boolean {
    return this.measure.leftovers()?.fields.includes(field) ?? false;
  }

  constructor() {
    void inject(Api)
      .call('people.list', {})
      .then(
        (people) => this.people.set(people),
        () => undefined,
      );
  }

  /** Both days or none; a single day is its own first and last. */
  protected spot(from: string, until: string): void {
    void this.store(
      { spotlight: from || until ? { from: from || until, until: until || from } : null },
      'The spotlight',
    );
  }

  protected coauthor(id: number, on: boolean): void {
    if (!id) return;
    void this.store(({ coauthors }) => {
      const held = coauthors.map((c) => c.id).filter((h) => h !== id);
      return { coauthorIds: on ? [...held, id] : held };
    }, 'The co-authors');
  }

  async chooseLead(): Promise<void> {
    const picture = await this.pictures.choose('Choose a lead picture');
    if (picture)
      await this.store({ leadPicture: { media: picture.id, alt: picture.alt } }, 'The lead picture');
  }
  protected async chooseShare(): Promise<void> {
    const picture = await this.pictures.choose('Choose a picture for sharing');
    if (picture) await this.store({ sharePicture: picture.id }, 'The picture for sharing');
  }

  protected async store(
    changes: PostChanges | ((post: PostView) => PostChanges),
    what: string,
  ): Promise<void> {
    this.error.set('');
    try {
      await this.posts.change(changes);
      this.told.set(`${what} is saved.`);
    } catch (error) {
      this.error.set(`${what} was not saved. ${sentenceOf(error)}`);
    }
  }
}
