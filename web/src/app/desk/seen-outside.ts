import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import { ENTRY, maxOf, shortCode, textWidth } from '@keyroster/core';
import type { PostChanges } from '@keyroster/contract';
import { SessionService } from '../accounts/session.service';
import { MatCheckbox, type MatCheckboxChange } from '@angular/material/checkbox';
import { CopyLine } from '../ui/copy-line';
import { FieldSet, TextField } from '../ui/fields';
import { LeftOver } from './left-over';
import { PostService } from '../posts/post.service';
import { AtRoot, atRoot } from '../api/root';

/** What search entries and shared cards show of the post, drawn as they will look. */
@Component({
  selector: 'kr-seen-outside',
  imports: [AtRoot, CopyLine, FieldSet, LeftOver, MatCheckbox, TextField],
  templateUrl: './seen-outside.html',
  styles: `
    fieldset {
      border: 0;
      padding: 0;
      margin: 0;
      min-width: 0;
    }
    figure {
      margin: 0 0 12px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--field);
      padding: 9px 11px;
      overflow-wrap: anywhere;
    }
    .where {
      font-size: 11.5px;
      color: var(--soft);
    }
    .entry {
      font:
        400 17px/1.25 Arial,
        Helvetica,
        sans-serif;
      color: var(--verdigris);
      margin: 2px 0;
    }
    .what {
      font-size: 12.5px;
      color: var(--soft);
    }
    .card {
      padding: 0 0 9px;
      overflow: hidden;
    }
    .card p {
      padding: 0 11px;
    }
    .card img,
    .none {
      width: 100%;
      aspect-ratio: 1200/630;
      object-fit: cover;
      display: block;
      margin-bottom: 7px;
      background: var(--hair);
    }
    .none {
      display: grid;
      place-items: center;
      color: var(--soft);
    }
    .head {
      font: 560 16px/1.2 var(--serif);
      margin: 2px 0 3px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SeenOutside {
  protected readonly whole = (id: number) => atRoot(`/media/${id}`);
  protected readonly posts = inject(PostService);
  private readonly session = inject(SessionService);
  readonly store = output<[PostChanges, string]>();
  protected readonly max = maxOf;
  protected readonly home = computed(() => (this.session.blog()?.home ?? '').replace(/^https?:\/\//, ''));
  /** A few characters that lead to the post permanently. */
  protected readonly short = computed(() => {
    const post = this.posts.post();
    return post ? `${this.session.blog()?.home ?? ''}/s/${shortCode(post.id)}` : '';
  });
  protected readonly picture = computed(
    () => this.posts.post()?.sharePicture ?? this.posts.post()?.leadPicture?.media ?? null,
  );
  /** The box shows what is so: it changes once the change is kept. */
  protected list({ checked, source }: MatCheckboxChange): void {
    source.checked = !checked;
    this.store.emit([{ inSearch: checked }, 'The listing by search engines']);
  }
  protected readonly length = computed(() => [...(this.posts.post()?.searchDescription ?? '')].length);
  protected readonly description = computed(() => {
    const p = this.posts.post();
    const text =
      p?.searchDescription ||
      p?.excerpt ||
      'Search engines take some words of the text when nothing is given.';
    return [...text].length > 160 ? `${[...text].slice(0, 157).join('')} …` : text;
  });
  /** The title as a search entry cuts it. */
  protected readonly shownTitle = computed(() => {
    const p = this.posts.post();
    const whole = `${p?.searchTitle || p?.title || ''} · ${this.session.blog()?.title ?? ''}`;
    if (textWidth(whole, ENTRY.size) <= ENTRY.room) return whole;
    let cut = whole;
    while (cut !== '' && textWidth(`${cut} …`, ENTRY.size) > ENTRY.room) cut = cut.slice(0, -1);
    return `${cut.trimEnd()} …`;
  });
}
