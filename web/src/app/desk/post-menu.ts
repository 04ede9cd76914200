import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { MatMenuModule } from '@angular/material/menu';
import { Router } from '@angular/router';
import { MatButton } from '@angular/material/button';
import type { BlogRef, TemplateView } from '@keyroster/contract';
import { roleMay, type BodyNode } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { inBlog } from '../api/blog-choice';
import { Api, sentenceOf } from '../api/api';
import { promptLine } from '../ui/prompt-line';
import { confirm } from '../ui/confirm';
import { Messages } from '../ui/messages.service';
import { PostService } from '../posts/post.service';
import { SuggestionsService } from '../editor/suggestions/suggestions.service';

/** What can be done with a whole post: out of the house, copied, begun from a template, gone back over. */
@Component({
  selector: 'kr-post-menu',
  imports: [MatButton, MatMenuModule],
  templateUrl: './post-menu.html',
  styles: `
    .open {
      min-width: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PostMenu {
  protected readonly posts = inject(PostService);
  protected readonly session = inject(SessionService);
  protected readonly suggestions = inject(SuggestionsService);
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  private readonly router = inject(Router);
  private readonly dialogs = inject(MatDialog);
  readonly editable = input.required<boolean>();
  /** A template's text, to be put into the post. */
  readonly started = output<BodyNode>();
  readonly onlyText = output();
  /** Blogs that the post can go to. */
  protected readonly others = computed(() =>
    this.session.blogs().filter((b) => b.id !== this.session.blog()?.id && roleMay(b.role, 'pitch')),
  );
  protected readonly inBlog = inBlog;
  protected readonly templates = signal<TemplateView[]>([]);
  protected readonly kinds = [
    { as: 'markdown', name: 'Markdown with front matter' },
    { as: 'html', name: 'HTML' },
    { as: 'docx', name: 'Word (.docx)' },
    { as: 'text', name: 'Plain text' },
  ];
  /** Those that have room for suggestions. */
  protected readonly suggestedKinds = this.kinds.filter((k) => k.as === 'html' || k.as === 'docx');

  protected async learn(): Promise<void> {
    await this.posts.flush();
    this.templates.set(await this.api.call('templates.list', {}).catch(() => []));
  }

  protected async leadTo(screen: 'spinoffs' | 'versions'): Promise<void> {
    await this.posts.flush();
    void this.router.navigate(['/posts', this.posts.post()!.id, screen]);
  }

  protected async draftLetter(): Promise<void> {
    await this.act(async () => {
      const body = { postIds: [this.posts.post()!.id] };
      const { id } = await this.api.call('letters.add', { body });
      await this.router.navigate(['/outlets/letters', id]);
    });
  }

  protected print(): void {
    const frame = document.createElement('iframe');
    frame.style.display = 'none';
    frame.src = inBlog(`/api/posts/${this.posts.post()!.id}/preview`);
    frame.addEventListener('load', () => {
      frame.contentWindow?.print();
      setTimeout(() => frame.remove(), 60_000);
    });
    document.body.append(frame);
  }

  protected async copy(): Promise<void> {
    await this.act(async () => {
      const made = await this.api.call('posts.copy', { id: this.posts.post()!.id, body: {} });
      await this.router.navigate(['/posts', made.id]);
      this.messages.done('This is a copy. What still is the earlier post’s is marked until you replace it.');
    });
  }

  /** Copies or moves the post to another blog; it begins in the tray there. */
  protected async copyOrMove({ id: blogId, title }: BlogRef, move: boolean): Promise<void> {
    const post = this.posts.post()!;
    const agreed =
      !move ||
      (await confirm(this.dialogs, {
        heading: `Move “${post.title}” to ${title}?`,
        text:
          'Text, pictures and tags go along and begin in the tray there. Here the post goes to the bin with its ' +
          'notes and versions, and can be restored.',
        act: 'Move it',
      }));
    if (!agreed) return;
    await this.act(async () => {
      await this.posts.flush();
      await this.api.call('posts.copy', { id: post.id, body: { blogId, move } });
      if (move) await this.router.navigate(['/archive']);
      this.messages.done(`“${post.title}” is in the tray of ${title}${move ? ', and in the bin here' : ''}.`);
    });
  }

  protected async keep(): Promise<void> {
    const name = await promptLine(this.dialogs, {
      about: 'Save the text as a template',
      label: 'Name of the template',
      value: this.posts.post()!.title.slice(0, 80),
      max: 80,
      done: 'Save',
    });
    if (!name) return;
    await this.act(async () => {
      await this.posts.flush();
      await this.api.call('templates.add', { body: { name, postId: this.posts.post()!.id } });
      this.messages.done(`“${name}” is a template now. It is changed on the Site screen.`);
    });
  }

  private async act(what: () => Promise<void>): Promise<void> {
    try {
      await what();
    } catch (error) {
      this.messages.done(sentenceOf(error));
    }
  }
}
