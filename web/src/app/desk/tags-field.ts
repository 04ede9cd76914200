import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  signal,
  viewChild,
  type ElementRef,
} from '@angular/core';
import { MatAutocompleteModule, MatAutocompleteTrigger } from '@angular/material/autocomplete';
import { MatButton } from '@angular/material/button';
import { MatChipsModule } from '@angular/material/chips';
import { MatOption } from '@angular/material/core';
import { MatFormField } from '@angular/material/form-field';
import { MatIcon } from '@angular/material/icon';
import type { TagView } from '@keyroster/contract';
import { formatCount, nearTags, tidyTag } from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';
import { PostService } from '../posts/post.service';
import { ErrorLine } from '../ui/error-line';

/** So many suggestions are shown. */
const SHOWN = 12;

/** The post's tags: typed or picked, with a word when a new one is nearly an old one. */
@Component({
  selector: 'kr-tags',
  imports: [MatAutocompleteModule, MatButton, MatChipsModule, MatFormField, MatIcon, MatOption, ErrorLine],
  templateUrl: './tags-field.html',
  styles: `
    :host {
      display: block;
      margin-bottom: 10px;
    }
    .label {
      display: block;
      font-weight: 600;
      font-size: 12px;
      margin-bottom: 3px;
    }
    .near {
      color: var(--brass);
      margin-top: 5px;
    }
    mat-option small {
      margin-left: 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TagsField {
  protected readonly posts = inject(PostService);
  private readonly api = inject(Api);
  private readonly known = signal<TagView[]>([]);
  protected readonly typed = signal('');
  protected readonly error = signal('');
  protected readonly id = 'kr-tag-field';
  private readonly field = viewChild<ElementRef<HTMLInputElement>>('field');
  private readonly list = viewChild(MatAutocompleteTrigger);
  protected readonly onPosts = (n: number) => formatCount(n, 'post');
  protected readonly isActive = (option: MatOption) => option.active;
  private readonly free = computed(() => {
    const has = new Set(this.posts.post()?.tags.map((t) => t.id));
    return this.known().filter((t) => !has.has(t.id));
  });
  protected readonly suggested = computed(() => {
    const begun = this.typed().trim().toLowerCase();
    return this.free()
      .filter((t) => t.name.toLowerCase().includes(begun))
      .sort((a, b) => b.posts - a.posts)
      .slice(0, SHOWN);
  });
  protected readonly near = computed(() => {
    const name = tidyTag(this.typed());
    if (name.length < 3 || this.known().some((t) => t.name.toLowerCase() === name.toLowerCase())) return null;
    return (
      this.free()
        .filter((t) => nearTags(t.name, name))
        .sort((a, b) => b.posts - a.posts)[0] ?? null
    );
  });

  constructor() {
    void this.learn();
  }

  /** Enter adds what is typed, unless it chooses a suggestion. */
  protected add(event: Event, field: HTMLInputElement, choosing: boolean): void {
    event.preventDefault();
    if (!choosing) void this.put(field.value);
  }

  protected async put(text: string): Promise<void> {
    const names = text.split(',').map(tidyTag).filter(Boolean);
    if (names.length === 0) return;
    const field = this.field()!.nativeElement;
    // Emptied at once: the next one may be typed while this one is on its way.
    field.value = '';
    this.typed.set('');
    this.list()?.closePanel();
    field.focus();
    if (await this.store((held) => [...held, ...names])) void this.learn();
    else if (field.value === '') field.value = text;
  }

  protected remove(name: string): void {
    void this.store((held) => held.filter((n) => n !== name));
  }

  private async store(next: (held: string[]) => string[]): Promise<boolean> {
    try {
      await this.posts.change(({ tags }) => ({ tags: next(tags.map((t) => t.name)) }));
      this.error.set('');
      return true;
    } catch (error) {
      this.error.set(sentenceOf(error));
      return false;
    }
  }

  private async learn(): Promise<void> {
    this.known.set(await this.api.call('tags.list', {}).catch(() => []));
  }
}
