import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { EMPTY_BODY, bodyText } from '@keyroster/core';
import { PostService } from './post.service';

/** Two people changed one post: both are shown, side by side, and neither is lost. */
@Component({
  selector: 'kr-conflict',
  imports: [MatButton],
  template: `
    @if (posts.conflict(); as c) {
      <div class="remark" role="alertdialog" aria-label="Changed in the meantime">
        <p>
          <b>{{ c.by }} changed this post in the meantime.</b> Both texts are here. Whichever you keep, the
          other stays among the earlier versions.
        </p>
        <div class="two">
          <div>
            <h3>Yours</h3>
            <pre>{{ mine() }}</pre>
            <button matButton="filled" (click)="posts.resolve('mine')">Keep mine</button>
          </div>
          <div>
            <h3>{{ c.by === 'Somebody' ? 'Theirs' : c.by + '’s' }}, version {{ c.theirs.version }}</h3>
            <pre>{{ theirs() }}</pre>
            <button matButton="outlined" (click)="posts.resolve('theirs')">Take theirs</button>
          </div>
        </div>
      </div>
    }
  `,
  styles: `
    .two {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 14px;
      margin-top: 8px;
    }
    pre {
      white-space: pre-wrap;
      overflow-wrap: anywhere;
      max-height: 260px;
      overflow: auto;
      background: var(--sheet);
      border: 1px solid var(--line);
      padding: 8px;
      font: 430 14px/1.45 var(--serif);
      margin: 5px 0 8px;
    }
    @media (max-width: 700px) {
      .two {
        grid-template-columns: 1fr;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConflictBar {
  protected readonly posts = inject(PostService);
  protected readonly mine = computed(() => {
    const c = this.posts.conflict();
    return c
      ? `${c.mine.title ?? c.theirs.title}\n${c.mine.excerpt ?? c.theirs.excerpt}\n\n${bodyText(c.mine.body ?? c.theirs.body ?? EMPTY_BODY)}`
      : '';
  });
  protected readonly theirs = computed(() => {
    const c = this.posts.conflict();
    return c ? `${c.theirs.title}\n${c.theirs.excerpt}\n\n${bodyText(c.theirs.body)}` : '';
  });
}
