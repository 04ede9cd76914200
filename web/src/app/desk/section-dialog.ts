import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { PostCard, PostView } from '@keyroster/contract';
import { bodyText, countWords, sayCount, sectionsOf, type BodyNode } from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';

interface Part { name: string; blocks: BodyNode[]; level: number; words: number }

/** Takes a section of another post, with its build: found by words, chosen by heading. */
@Component({
  imports: [MatDialogModule],
  template: `
    <div class="dialog">
      <h2>A section from another post</h2>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      @if (!post()) {
        <form (submit)="$event.preventDefault(); search(words.value)"><label class="field"><span>Words of the post</span><input #words maxlength="200" (input)="later(words.value)" placeholder="a word of its title or text" /></label></form>
        <ul>@for (p of found(); track p.id) { <li><button class="btn plain" (click)="open(p.id)"><b>{{ p.title }}</b> <span class="soft">{{ p.byline?.name ?? '' }}, {{ p.stage }}</span></button></li> } @empty { <li class="soft">{{ asked() ? 'No post has these words.' : 'The newest posts will stand here.' }}</li> }</ul>
      } @else {
        <p class="row"><button class="btn small" (click)="post.set(null)">Another post</button> <b>{{ post()!.title }}</b></p>
        <ul>@for (s of parts(); track $index) { <li [class.deep]="s.level > 2"><button class="btn plain" (click)="dialog.close(s.blocks)"><b>{{ s.name }}</b> <span class="soft">{{ count(s.words) }}</span></button></li> }</ul>
      }
      <div class="ends"><button class="btn" mat-dialog-close>Cancel</button></div>
    </div>
  `,
  styles: `ul { list-style: none; margin: 8px 0 0; padding: 0; max-height: 50vh; overflow: auto; } li { border-bottom: 1px solid var(--hair); } li .btn { width: 100%; justify-content: space-between; white-space: normal; text-align: left; } .deep { padding-left: 18px; } b { font-weight: 550; }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SectionDialog {
  private readonly api = inject(Api);
  protected readonly dialog = inject<MatDialogRef<SectionDialog, BodyNode[]>>(MatDialogRef);
  protected readonly found = signal<PostCard[]>([]);
  protected readonly post = signal<PostView | null>(null);
  protected readonly fault = signal('');
  protected readonly asked = signal('');
  private timer: ReturnType<typeof setTimeout> | undefined;
  protected readonly count = (n: number) => sayCount(n, 'word');

  /** What stands before the first heading, then each section; a lower one is part of the one above and can be taken alone too. */
  protected readonly parts = computed((): Part[] => {
    const body = this.post()?.body;
    if (!body) return [];
    const blocks = (body.content ?? []).map((block, at) => ({ block, at })).filter(({ block }) => block.type !== 'foldLine');
    const cut = (from: number, to: number) => blocks.filter(({ at }) => at >= from && at < to).map(({ block }) => block);
    const part = (name: string, level: number, content: BodyNode[]): Part => ({ name, level, blocks: content, words: countWords(bodyText({ type: 'doc', content })) });
    const sections = sectionsOf(body);
    const opening = cut(0, sections[0]?.from ?? Infinity);
    return [...(opening.length > 0 ? [part('Opening', 2, opening)] : []), ...sections.map((s) => part(s.text || 'Heading without words', s.level, cut(s.from, s.to)))];
  });

  constructor() {
    void this.search('');
  }

  protected later(words: string): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.search(words), 200);
  }

  protected async search(words: string): Promise<void> {
    this.asked.set(words.trim());
    try {
      const { posts } = await this.api.call('posts.list', { query: { ...(words.trim() ? { words: words.trim() } : {}), sort: '-updated', limit: 20 } });
      if (this.asked() === words.trim()) this.found.set(posts.filter((p) => p.words > 0));
      this.fault.set('');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }

  protected async open(id: number): Promise<void> {
    try {
      this.post.set(await this.api.call('posts.see', { id }));
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }
}
