import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { PostCard, PostView } from '@keyroster/contract';
import { bodyText, countWords, formatCount, sectionsOf, type BodyNode } from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';
import { TextField, textControl } from '../ui/fields';
import { ErrorLine } from '../ui/error-line';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { ReactiveFormsModule } from '@angular/forms';
import { startWith, catchError, debounceTime, distinctUntilChanged, map, of, switchMap } from 'rxjs';

interface Part {
  name: string;
  blocks: BodyNode[];
  level: number;
  words: number;
}

/** Takes a section of another post, with its build: found by words, chosen by heading. */
@Component({
  imports: [MatButton, MatDialogModule, TextField, ErrorLine, ReactiveFormsModule],
  templateUrl: './section-dialog.html',
  styles: `
    ul {
      list-style: none;
      margin: 8px 0 0;
      padding: 0;
      max-height: 50vh;
      overflow: auto;
    }
    li {
      border-bottom: 1px solid var(--hair);
    }
    li [matButton] {
      width: 100%;
      justify-content: space-between;
      white-space: normal;
      text-align: left;
    }
    .deep {
      padding-left: 18px;
    }
    b {
      font-weight: 550;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SectionDialog {
  private readonly api = inject(Api);
  protected readonly dialog = inject<MatDialogRef<SectionDialog, BodyNode[]>>(MatDialogRef);
  protected readonly found = signal<PostCard[]>([]);
  protected readonly post = signal<PostView | null>(null);
  protected readonly error = signal('');
  protected readonly asked = signal('');
  protected readonly words = textControl();
  protected readonly count = (n: number) => formatCount(n, 'word');

  /**
   * What stands before the first heading, then each section; a lower one is part of the one above and can be
   * taken alone too.
   */
  protected readonly parts = computed((): Part[] => {
    const body = this.post()?.body;
    if (!body) return [];
    const blocks = (body.content ?? [])
      .map((block, at) => ({ block, at }))
      .filter(({ block }) => block.type !== 'foldLine');
    const cut = (from: number, to: number) =>
      blocks.filter(({ at }) => at >= from && at < to).map(({ block }) => block);
    const part = (name: string, level: number, content: BodyNode[]): Part => ({
      name,
      level,
      blocks: content,
      words: countWords(bodyText({ type: 'doc', content })),
    });
    const sections = sectionsOf(body);
    const opening = cut(0, sections[0]?.from ?? Infinity);
    return [
      ...(opening.length > 0 ? [part('Opening', 2, opening)] : []),
      ...sections.map((s) => part(s.text || 'Heading without words', s.level, cut(s.from, s.to))),
    ];
  });

  constructor() {
    this.words.valueChanges
      .pipe(
        startWith(''),
        debounceTime(200),
        map((words) => words.trim()),
        distinctUntilChanged(),
        switchMap((words) =>
          this.api
            .request('posts.list', {
              query: { ...(words ? { words } : {}), sort: '-updated', limit: 20 },
            })
            .pipe(
              map(({ posts }) => ({ words, posts, error: '' })),
              catchError((error: unknown) => of({ words, posts: null, error: sentenceOf(error) })),
            ),
        ),
        takeUntilDestroyed(),
      )
      .subscribe(({ words, posts, error }) => {
        this.asked.set(words);
        this.error.set(error);
        if (posts) this.found.set(posts.filter((p) => p.words > 0));
      });
  }

  protected async open(id: number): Promise<void> {
    try {
      this.post.set(await this.api.call('posts.see', { id }));
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
