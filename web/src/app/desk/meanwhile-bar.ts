import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { PostService } from '../posts/post.service';

/** Two people changed one line of a post: both are shown, and one is chosen. */
@Component({
  selector: 'kr-meanwhile',
  imports: [MatButton],
  template: `
    @if (posts.fields.meanwhile(); as m) {
      <div
        class="remark"
        role="alertdialog"
        [attr.aria-label]="'The ' + m.field + ' was changed in the meantime'"
      >
        <p>
          <b>{{ m.by }} changed the {{ m.field }} in the meantime</b> to “{{ m.theirs }}”. Yours is on the
          screen and not stored yet.
        </p>
        <div class="row">
          <button matButton="filled" (click)="posts.fields.settle('mine')">Keep yours</button
          ><button matButton="outlined" (click)="posts.fields.settle('theirs')">Take theirs</button>
        </div>
      </div>
    }
  `,
  styles: `
    .row {
      margin-top: 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MeanwhileBar {
  protected readonly posts = inject(PostService);
}
