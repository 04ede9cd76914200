import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatOption } from '@angular/material/core';
import { MatSelect } from '@angular/material/select';
import { MatFormField } from '@angular/material/form-field';
import { MatButton } from '@angular/material/button';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { Router } from '@angular/router';
import type { PostView } from '@keyroster/contract';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Messages } from '../ui/messages.service';

@Component({
  selector: 'kr-new-pitch',
  imports: [MatOption, MatSelect, MatFormField, MatButton, MatDialogModule],
  template: `
    <form class="dialog" (submit)="keep($event, title.value, thought.value, category.value)" novalidate>
      <h2>New pitch</h2>
      @if (error()) {
        <p class="error" role="alert">{{ error() }}</p>
      }
      <label class="field"
        ><span>Title</span><input #title name="title" maxlength="300" autocomplete="off" cdkFocusInitial
      /></label>
      <label class="field"
        ><span>A line of thought</span><textarea #thought name="thought" rows="3" maxlength="4000"></textarea>
      </label>
      <div class="field">
        <span>Category</span
        ><mat-form-field
          ><mat-select value="" #category aria-label="Category">
            <mat-option value="">none yet</mat-option>
            @for (c of session.blog()?.categories ?? []; track c.id) {
              @if (session.isDeskFor(c.id) || session.me()?.role === 'contributor') {
                <mat-option [value]="c.id">{{ c.name }}</mat-option>
              }
            }
          </mat-select></mat-form-field
        >
      </div>
      <div class="ends">
        <button type="button" matButton="outlined" mat-dialog-close>Cancel</button>
        @if (session.may('changeMany')) {
          <button
            matButton="outlined"
            type="button"
            (click)="write(title.value, thought.value, category.value)"
          >
            Start writing it
          </button>
        }
        <button matButton="filled" type="submit">Put it in the tray</button>
      </div>
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NewPitch {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialogRef<NewPitch>);
  protected readonly error = signal('');

  protected async keep(event: Event, title: string, thought: string, category: string): Promise<void> {
    event.preventDefault();
    if (await this.pitch(title, thought, category)) this.messages.done(`“${title.trim()}” is in the tray.`);
  }

  /** Without waiting in the tray: one's own to write, at once. */
  protected async write(title: string, thought: string, category: string): Promise<void> {
    if (!this.session.isDeskFor(category ? Number(category) : null)) {
      this.error.set('Choose a category that you edit, to begin it at once.');
      return;
    }
    const post = await this.pitch(title, thought, category, this.session.me()!.id);
    if (!post) return;
    await this.api
      .call('posts.move', { id: post.id, ifMatch: post.version, body: { to: 'drafting' } })
      .catch((error: unknown) => this.messages.done(sentenceOf(error)));
    void this.router.navigate(['/posts', post.id]);
  }

  private async pitch(
    title: string,
    thought: string,
    category: string,
    bylineId?: number,
  ): Promise<PostView | null> {
    if (title.trim() === '') {
      this.error.set('It needs a title, however rough.');
      return null;
    }
    try {
      const post = await this.api.call('posts.pitch', {
        body: {
          title,
          thought,
          categoryId: category ? Number(category) : null,
          ...(bylineId === undefined ? {} : { bylineId }),
        },
      });
      this.dialog.close();
      return post;
    } catch (error) {
      this.error.set(sentenceOf(error));
      return null;
    }
  }
}
