import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatTooltip } from '@angular/material/tooltip';
import { RouterLink } from '@angular/router';
import { promptUpdate } from '../versions/update-dialog';
import { PostService } from '../posts/post.service';

/** What readers do not see yet of a published post, and the way to put it before them. */
@Component({
  selector: 'kr-update',
  imports: [MatButton, MatTooltip, RouterLink],
  template: `
    @if (posts.post(); as p) {
      @if (p.stage === 'published' && p.readersVersion !== null) {
        <div class="remark" role="group" aria-label="Changes that are not live yet">
          <p>
            <b>Readers do not see the last changes yet.</b> They see
            <a
              [routerLink]="['/posts', p.id, 'versions']"
              [queryParams]="{ from: p.readersVersion, to: p.version }"
              >version {{ p.readersVersion }}</a
            >.
          </p>
          @if (p.rights.update) {
            <div class="row">
              <button matButton="filled" class="small" (click)="look()">Update …</button
              ><button
                matButton="outlined"
                class="small"
                matTooltip="Ctrl Alt U"
                aria-keyshortcuts="Control+Alt+U"
                (click)="atOnce()"
              >
                Update at once
              </button>
            </div>
          } @else {
            <p class="soft">Its editor publishes them.</p>
          }
        </div>
      }
    }
  `,
  styles: `
    .row {
      margin-top: 8px;
    }
  `,
  host: { '(document:keydown.control.alt.u)': '$event.preventDefault(); atOnce()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class UpdateBar {
  protected readonly posts = inject(PostService);
  private readonly dialogs = inject(MatDialog);
  /** Something is to be done; the listener reports the result. */
  readonly acted = output<() => Promise<string>>();

  protected async look(): Promise<void> {
    const { id, title } = this.posts.post()!;
    await this.posts.flush();
    const seen = await promptUpdate(this.dialogs, { id, title });
    if (seen !== null) this.acted.emit(() => this.posts.update(seen));
  }

  /** A small correction goes to readers without being looked at once more; what blocks holds it back all the same. */
  protected atOnce(): void {
    const post = this.posts.post();
    if (post?.stage === 'published' && post.rights.update) this.acted.emit(() => this.posts.update());
  }
}
