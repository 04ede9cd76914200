import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { RouterLink } from '@angular/router';
import { closedSentence, maxOf, proposeSlugs, whyClosed, type BodyNode } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { LetterAtReleaseService } from '../letters/letter-at-release.service';
import { sentenceOf } from '../api/api';
import { Clock } from '../api/clock';
import { ChoiceField, DateField, FieldSet, TextField } from '../ui/fields';
import { FormatFields } from './format-fields';
import { LeftOver } from './left-over';
import { MeasureService } from '../posts/measure.service';
import { OnBlog } from './on-blog';
import { PlainTexts } from './plain-texts';
import { PostPeople } from './post-people';
import { PostPictures } from './post-pictures';
import { PostService } from '../posts/post.service';
import { SeenOutside } from './seen-outside';
import type { Stored } from './stored';
import { TagsField } from './tags-field';
import { PlaceFigures } from '../results/place-figures';
import { ErrorLine } from '../ui/error-line';
import { WhoReads } from './who-reads';

/** Everything of a post but its text. Each field is stored when it is left. */
@Component({
  selector: 'kr-details',
  imports: [
    ChoiceField,
    DateField,
    FieldSet,
    FormatFields,
    LeftOver,
    PlaceFigures,
    MatButton,
    MatCheckbox,
    OnBlog,
    PlainTexts,
    PostPeople,
    PostPictures,
    RouterLink,
    SeenOutside,
    TagsField,
    TextField,
    ErrorLine,
    WhoReads,
  ],
  templateUrl: './details-panel.html',
  styles: `
    fieldset {
      border: 0;
      padding: 0;
      margin: 0;
      min-width: 0;
    }
    .two {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 8px;
    }
    .two + .after {
      margin: -6px 0 10px;
    }
    .label {
      font-weight: 600;
      font-size: 12px;
    }
    h3 {
      border-top: 1px solid var(--line);
      padding: 10px 0 8px;
    }
    .tick {
      display: block;
      margin-bottom: 8px;
    }
    .proposals {
      margin-bottom: 10px;
    }
    .left {
      color: var(--brass);
      font-weight: 600;
      margin: -6px 0 10px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DetailsPanel {
  protected readonly posts = inject(PostService);
  protected readonly session = inject(SessionService);
  protected readonly letters = inject(LetterAtReleaseService);
  private readonly clock = inject(Clock);
  private readonly measure = inject(MeasureService);
  readonly started = output<BodyNode>();
  protected readonly error = signal('');
  protected readonly status = signal('');
  protected readonly max = maxOf;
  private readonly all = computed(() => this.session.blog()?.categories ?? []);
  /** The desk's own ones, and the one the post is in. */
  protected readonly categories = computed(() =>
    this.all().filter((c) => this.session.isDeskFor(c.id) || c.id === this.posts.post()?.categoryId),
  );
  protected readonly secondCategories = computed(() =>
    this.all().filter((c) => c.id !== this.posts.post()?.categoryId),
  );
  /** Whether comments show under the post, and if not, by which of the two switches. */
  protected readonly commentState = computed(() => {
    const [rules, post] = [this.session.blog()?.commentRules, this.posts.post()];
    if (!rules || !post) return '';
    return closedSentence(whyClosed(rules, post, this.clock.now().toISOString()), rules);
  });
  protected readonly slugHint = computed(() => {
    const p = this.posts.post();
    if (!p) return '';
    const stands = p.slug
      ? this.session.addressOf({ slug: p.slug, runLocal: p.runLocal })
      : `Left empty, it becomes ${p.proposedSlug} when the post is cleared.`;
    return p.releasedAt ? `${stands} If it changes, the old address keeps leading here.` : stands;
  });
  protected readonly proposals = computed(() => {
    const p = this.posts.post();
    return p
      ? proposeSlugs(p.title, (a) => a === p.slug, this.measure.keyWords())
          .filter((a) => a !== p.slug && a !== p.proposedSlug)
          .slice(0, 3)
      : [];
  });

  /** Both days or none; a single day is its own first and last. */
  protected spot(from: string, until: string): void {
    void this.store(
      { spotlight: from || until ? { from: from || until, until: until || from } : null },
      'The spotlight',
    );
  }

  protected async store(...[changes, what]: Stored): Promise<void> {
    this.error.set('');
    try {
      await this.posts.change(changes);
      this.status.set(`${what} is saved.`);
    } catch (error) {
      this.error.set(`${what} was not saved. ${sentenceOf(error)}`);
    }
  }
}
