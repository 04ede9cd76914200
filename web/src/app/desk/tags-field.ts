import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { TagView } from '@keyroster/contract';
import { nearTags, tidyTag } from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';
import { PostService } from './post.service';

/** The post's tags: typed or picked, with a word when a new one is nearly an old one. */
@Component({
  selector: 'kr-tags',
  imports: [MatButton],
  templateUrl: './tags-field.html',
  styles: `
    ul {
      list-style: none;
      display: flex;
      flex-wrap: wrap;
      gap: 5px;
      margin: 0 0 5px;
      padding: 0;
    }
    ul:empty {
      display: none;
    }
    li {
      border: 1px solid var(--line);
      border-radius: 3px;
      background: var(--field);
      padding: 1px 2px 1px 7px;
      font-size: 12px;
    }
    li button {
      border: 0;
      background: none;
      padding: 2px 5px;
      cursor: pointer;
      color: var(--soft);
      font-size: 10px;
      min-height: 22px;
    }
    .near {
      color: var(--brass);
      margin-top: 5px;
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
  protected readonly free = computed(() => {
    const has = new Set(this.posts.post()?.tags.map((t) => t.id));
    return this.known().filter((t) => !has.has(t.id));
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

  protected add(event: Event, field: HTMLInputElement): void {
    event.preventDefault();
    void this.put(field.value, field);
  }

  protected async put(text: string, field: HTMLInputElement): Promise<void> {
    const names = text.split(',').map(tidyTag).filter(Boolean);
    if (names.length === 0) return;
    // Emptied at once: the next one may be typed while this one is on its way.
    field.value = '';
    this.typed.set('');
    field.focus();
    if (await this.store((held) => [...held, ...names])) void this.learn();
    else if (field.value === '') field.value = text;
  }

  protected take(name: string): void {
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
